import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { type DerivativeId, edit, edits, type QuantityId } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { FitError, fitPolynomial, studentQuantile } from '../regression/index.ts'
import { REPEATS, SCATTER_MARGIN, SHARE_MARGIN } from '../testing/extent.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { compare, effectiveFreedom, estimate, fitColumn, halfWidth, shares, stretchSummary } from './index.ts'

const whole = { from: 0, to: 1000 }

describe('a polynomial fit', () => {
  it('says how its coefficients move with the values, as fitting the moved values would', () => {
    const t = [0, 0.1, 0.25, 0.4, 0.7, 0.8]
    const y = [1, 1.4, 2.2, 2.1, 3.3, 3]
    const change = [0.1, -0.2, 0, 0.05, 0.3, -0.1]
    const fit = fitPolynomial(t, y, 2)
    const moved = fitPolynomial(
      t,
      y.map((value, i) => value + change[i]),
      2,
    )
    fit.parameterShift(change).forEach((by, k) => {
      expect(by).toBeCloseTo(moved.coefficients[k] - fit.coefficients[k], 10)
    })
  })
})

describe('fit to a throw', () => {
  it.each(['y', 'vy'] as const)('reads the acceleration from %s', (quantity) => {
    const fit = fitColumn(analyse(thrown({})).table(THROWN.body), quantity, whole, {
      model: 'uniform-acceleration',
    })
    expect(fit.reading.value).toBeCloseTo(-9.81, 8)
    expect(fit.reading.unit).toBe('m/s²')
    expect(fit.parameters.at(-1)!.value).toBe(fit.reading.value)
  })

  it('gives plain coefficients on request, the reading unchanged', () => {
    const table = analyse(thrown({})).table(THROWN.body)
    const fit = fitColumn(table, 'y', whole, { model: 'uniform-acceleration', form: 'coefficients' })
    expect(fit.parameters.map((p) => p.symbol + p.subscript)).toEqual(['c0', 'c1', 'c2'])
    expect(fit.parameters[2].value).toBeCloseTo(-9.81 / 2, 8)
    expect(fit.reading.value).toBeCloseTo(-9.81, 8)
  })

  it('uses the points of the stretch only', () => {
    const spoiled = edit(thrown({}), edits.setMark(THROWN.body, 45, { x: 0, y: 0 })).document
    const fit = fitColumn(
      analyse(spoiled).table(THROWN.body),
      'y',
      { from: 5, to: 30 },
      { model: 'uniform-acceleration' },
    )
    expect(fit.points).toBe(26)
    expect(fit.reading.value).toBeCloseTo(-9.81, 8)
  })

  it('carries placing and length of the reference into the error in quadrature', () => {
    const document = edit(thrown({}), (draft) => {
      for (const reference of Object.values(draft.references)) reference.lengthError = 0.014
      draft.timing.rateError = 0
    }).document
    const { reading } = fitColumn(analyse(document).table(THROWN.body), 'y', whole, {
      model: 'uniform-acceleration',
    })
    expect(reading.error).toBeCloseTo(9.81 * Math.hypot(Math.SQRT1_2 / 315, 0.01), 6)
    const parts = Object.fromEntries(shares(reading).map(({ source, share }) => [source, share]))
    expect(parts.length).toBeGreaterThan(0.9)
    expect(parts.marks + parts.placing + parts.length).toBeCloseTo(1, 12)
  })

  it('says what it lacks', () => {
    const table = analyse(thrown({})).table(THROWN.body)
    expect(() => fitColumn(table, 'y', { from: 3, to: 4 }, { model: 'uniform-acceleration' })).toThrow(
      /too-few-points.*3/,
    )
    expect(() => fitColumn(table, 'y', { from: 900, to: 901 }, { model: 'uniform' })).toThrow(FitError)
    expect(() => fitPolynomial([0, 1, Number.NaN], [1, 2, 3], 1)).toThrow(/not-a-number.*3/)
    expect(() => fitPolynomial([1, 1, 1], [1, 2, 3], 1)).toThrow(/too-few-points/)
  })

  it('through as many points as parameters has no error to state', () => {
    const fit = fitColumn(
      analyse(thrown({})).table(THROWN.body),
      'y',
      { from: 0, to: 2 },
      { model: 'uniform-acceleration' },
    )
    expect(fit.reading.value).toBeCloseTo(-9.81, 6)
    expect(fit.reading.error).toBeNaN()
  })
})

describe('what is told beside a line', () => {
  // Textbook formulas of simple regression, as in Draper and Smith, Applied Regression Analysis, chapter 3.
  const noise = normalSource(randomSource(3))
  const table = analyse(
    thrown({ place: ({ x, y }) => ({ x: x + 0.8 * noise(), y: y + 0.8 * noise() }) }),
  ).table(THROWN.body)
  const fit = fitColumn(table, 'x', whole, { model: 'uniform' })
  const n = table.times.length
  const mean = table.times.reduce((sum, t) => sum + t / n, 0)
  const square = table.times.reduce((sum, t) => sum + (t * t) / n, 0)
  const spread = n * (square - mean * mean)
  const scatter = Math.sqrt(fit.residuals().reduce((sum, { value }) => sum + value * value, 0) / (n - 2))

  it('correlates the place at the start with the velocity by −t̄/√(mean of t²)', () => {
    const [[one, between], [again, other]] = fit.correlations()
    expect(one).toBeCloseTo(1, 9)
    expect(other).toBeCloseTo(1, 9)
    expect(between).toBeCloseTo(-mean / Math.sqrt(square), 6)
    expect(again).toBe(between)
  })

  it('has a further point within s·√(1 + 1/n + (t − t̄)²/Σ(t − t̄)²)', () => {
    for (const t of [0, mean, 2])
      expect(
        fit.predictionErrorAt(t) / (scatter * Math.sqrt(1 + 1 / n + (t - mean) ** 2 / spread)),
      ).toBeCloseTo(1, 6)
  })

  it('has no correlation with a fixed parameter', () => {
    const fixed = fitColumn(table, 'x', whole, { model: 'uniform', fixed: { v: 3 } })
    expect(fixed.parameters[1].isFixed).toBe(true)
    expect(fixed.correlations()[0][1]).toBeNaN()
  })
})

describe('generalised least squares on velocities', () => {
  it('agrees with the matrix formula (AᵀV⁻¹A)⁻¹AᵀV⁻¹v worked out by hand for three velocities', () => {
    // Times 0…4, D with rows (−½, 0, ½); V = DDᵀ = ¼[[2,0,−1],[0,2,0],[−1,0,2]]. For a mean (degree 0):
    // V⁻¹ = 4·[[2/3,0,1/3],[0,1/2,0],[1/3,0,2/3]], weights ∝ (1, ½, 1).
    const ticks = [0, 15360, 30720, 46080, 61440]
    const place = [0, 1, 5, 4, 9]
    let next = 0
    const document = thrown({ ticks, place: () => ({ x: 238 + 225 * place[next++], y: 0 }) })
    const fit = fitColumn(analyse(document).table(THROWN.body), 'vx', whole, { model: 'uniform' })
    expect(fit.reading.value).toBeCloseTo((2.5 + 1.5 / 2 + 2) / 2.5, 10)
  })
})

describe('the 95 % interval', () => {
  it.each<[QuantityId, number]>([
    ['y', 12],
    ['vy', 12],
    ['y', 50],
    ['vy', 50],
  ])(
    'of the acceleration from %s over %d marks covers the truth in 93 to 97 % of repeats',
    (quantity, frames) => {
      const normal = normalSource(randomSource(frames * 7 + quantity.length))
      let covered = 0
      for (let repeat = 0; repeat < REPEATS; repeat++) {
        const document = thrown({
          frames,
          place: ({ x, y }) => ({ x: x + 0.4 * normal(), y: y + 0.4 * normal() }),
          placeEnd: ({ x, y }) => ({ x: x + 0.5 * normal(), y: y + 0.5 * normal() }),
        })
        const { reading } = fitColumn(analyse(document).table(THROWN.body), quantity, whole, {
          model: 'uniform-acceleration',
        })
        if (Math.abs(reading.value + 9.81) <= halfWidth(reading)) covered++
      }
      expect(covered / REPEATS).toBeGreaterThanOrEqual(0.93 - SHARE_MARGIN)
      expect(covered / REPEATS).toBeLessThanOrEqual(0.97 + SHARE_MARGIN)
    },
  )

  it.each(['parabola', 'cubic', 'spline'] as const)(
    'of the acceleration from velocities by a %s covers it as often: they share more marks',
    (method) => {
      const normal = normalSource(randomSource(3))
      const found: number[] = []
      let covered = 0
      for (let repeat = 0; repeat < REPEATS; repeat++) {
        const document = thrown({
          frames: 20,
          place: ({ x, y }) => ({ x: x + 0.4 * normal(), y: y + 0.4 * normal() }),
        })
        const table = analyse(document).table(THROWN.body, {
          derivation: { method, reach: 4, weighted: false },
        })
        const { reading } = fitColumn(table, 'vy', whole, { model: 'uniform-acceleration' })
        const [marks] = reading.parts
        found.push(reading.value)
        if (Math.abs(reading.value + 9.81) <= studentQuantile(0.95, marks.freedom) * marks.error) covered++
      }
      // That the marks had a say in a spline's smoothing, its errors don't know.
      expect(covered / REPEATS).toBeGreaterThanOrEqual((method === 'spline' ? 0.9 : 0.93) - SHARE_MARGIN)
      expect(covered / REPEATS).toBeLessThanOrEqual(0.97 + SHARE_MARGIN)
      if (method === 'spline') return
      // Nothing is lost by going through velocities over a window: the spread is that of a fit to the positions.
      const mean = found.reduce((sum, value) => sum + value / found.length, 0)
      const spread = Math.sqrt(found.reduce((sum, value) => sum + (value - mean) ** 2, 0) / found.length)
      const times = Array.from({ length: 20 }, (_, i) => i / 60)
      const metres = (0.4 * 1.4) / 315
      const unit = fitPolynomial(
        times,
        times.map((_, i) => (i % 2 ? 1 : -1)),
        2,
      )
      const least = 2 * metres * (Math.sqrt(unit.covariance[2][2]) / unit.scatter)
      expect(Math.abs(spread / least - 1)).toBeLessThan(0.1 + SCATTER_MARGIN)
    },
  )

  it('covers as often on uneven times', () => {
    const uniform = randomSource(5)
    const normal = normalSource(uniform)
    let covered = 0
    for (let repeat = 0; repeat < REPEATS; repeat++) {
      let at = 0
      const ticks = Array.from({ length: 20 }, () => {
        at += 128 + Math.floor(512 * uniform())
        return at
      })
      const document = thrown({
        ticks,
        place: ({ x, y }) => ({ x: x + 0.4 * normal(), y: y + 0.4 * normal() }),
      })
      const { reading } = fitColumn(analyse(document).table(THROWN.body), 'vy', whole, {
        model: 'uniform-acceleration',
      })
      if (Math.abs(reading.value + 9.81) <= halfWidth(reading)) covered++
    }
    // The staff's ends are exact here, so the stated scale error can only widen the interval.
    expect(covered / REPEATS).toBeGreaterThanOrEqual(0.93 - SHARE_MARGIN)
    expect(covered / REPEATS).toBeLessThanOrEqual(0.975 + SHARE_MARGIN)
  })
})

describe('estimates', () => {
  it('combine degrees of freedom as Welch and Satterthwaite do', () => {
    const half = estimate(1, 'm', [
      { source: 'marks', error: 3, freedom: 10 },
      { source: 'placing', error: 4, freedom: Number.POSITIVE_INFINITY },
    ])
    expect(half.error).toBe(5)
    expect(effectiveFreedom(half)).toBeCloseTo((5 ** 4 * 10) / 3 ** 4, 9)
  })
})

describe('comparison', () => {
  const reading = estimate(-9.783, 'm/s²', [{ source: 'marks', error: 0.054, freedom: 20 }])

  it('tells percent and standard errors', () => {
    const comparison = compare(reading, -9.81)
    expect(comparison.percent).toBeCloseTo(0.2752, 3)
    expect(comparison.standardErrors).toBeCloseTo(0.5, 9)
    expect(comparison.bySize).toBe(false)
  })

  it('compares sizes where only the direction differs', () => {
    expect(compare(reading, 9.81)).toMatchObject({ bySize: true, percent: compare(reading, -9.81).percent })
  })

  it('has no percent of nothing', () => {
    expect(compare(reading, 0).percent).toBeNull()
    expect(compare(estimate(1, 'm', []), 2).standardErrors).toBeNull()
  })
})

describe('stretch', () => {
  it('has mean, change and slope', () => {
    const table = analyse(thrown({})).table(THROWN.body)
    const summary = stretchSummary(table, 'x', { from: 6, to: 12 })
    expect(summary.points).toBe(7)
    expect(summary.mean.value).toBeCloseTo((2.6 * 9) / 60, 9)
    expect(summary.change.value).toBeCloseTo((2.6 * 6) / 60, 9)
    expect(summary.slope.value).toBeCloseTo(2.6, 9)
    expect(stretchSummary(table, 'vx', { from: 0, to: 0 }).points).toBe(0)
    const alone = stretchSummary(table, 'x', { from: 6, to: 6 })
    expect([alone.points, alone.change.value, alone.slope.value]).toEqual([1, 0, Number.NaN])
  })

  it.each<[QuantityId, DerivativeId]>([
    ['y', 'three-point'],
    ['vy', 'three-point'],
    ['vy', 'parabola'],
    ['ay', 'cubic'],
  ])(
    'states errors that are the spread over 2,000 repeats within a twentieth: %s by %s',
    (quantity, method) => {
      const normal = normalSource(randomSource(6))
      const found = { mean: [] as number[], change: [] as number[], slope: [] as number[] }
      let stated = { mean: 0, change: 0, slope: 0 }
      for (let repeat = 0; repeat < REPEATS; repeat++) {
        const marked = thrown({
          frames: 24,
          place: ({ x, y }) => ({ x: x + 0.4 * normal(), y: y + 0.4 * normal() }),
        })
        const { document } = edit(marked, edits.changeBody(THROWN.body, { markError: 0.4 }))
        const table = analyse(document).table(THROWN.body, {
          derivation: { method, reach: 3, weighted: false },
        })
        const { mean, change, slope } = stretchSummary(table, quantity, { from: 4, to: 20 })
        found.mean.push(mean.value)
        found.change.push(change.value)
        found.slope.push(slope.value)
        stated = { mean: mean.error, change: change.error, slope: slope.error }
      }
      for (const what of ['mean', 'change', 'slope'] as const) {
        const middle = found[what].reduce((sum, value) => sum + value / REPEATS, 0)
        const spread = Math.sqrt(
          found[what].reduce((sum, value) => sum + (value - middle) ** 2, 0) / (REPEATS - 1),
        )
        expect(Math.abs(stated[what] / spread - 1)).toBeLessThan(0.05 + SCATTER_MARGIN)
      }
    },
  )
})
