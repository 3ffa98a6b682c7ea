import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../../random/index.ts'
import { applyMap, linearMapWhitening } from '../../regression/index.ts'
import { REPEATS, SHARE_MARGIN } from '../../testing/extent.ts'
import { biasBounds, DERIVATIVES, type DerivationPoints } from './index.ts'
import { derivativeAt } from './localPolynomial.ts'

const { parabola, cubic } = DERIVATIVES
const at = (times: number[], breaks: number[] = []): DerivationPoints => ({
  from: times,
  to: times,
  breaks: new Set(breaks),
})
const derived = (
  method: typeof parabola,
  times: number[],
  order: 1 | 2,
  reach: number,
  motion: (t: number) => number,
) => {
  const values = times.map(motion)
  const { rows, map } = method.derive(at(times), order, reach, values)
  return { rows, values: applyMap(map, values) }
}
/** Uneven times, as a phone's are. */
const uneven = Array.from({ length: 24 }, (_, i) => i / 30 + 0.009 * Math.sin(12.9 * i))

describe('the derivative of a least-squares polynomial', () => {
  const even = (reach: number) => Array.from({ length: 2 * reach + 1 }, (_, i) => i - reach)

  it('has the published coefficients on even times', () => {
    // Savitzky and Golay, Anal. Chem. 36 (1964) 1627, tables III to VI.
    const close = (found: number[], published: number[], norm: number) =>
      found.forEach((one, i) => {
        expect(one).toBeCloseTo(published[i] / norm, 12)
      })
    close(derivativeAt(even(2), 0, 2, 1), [-2, -1, 0, 1, 2], 10)
    close(derivativeAt(even(3), 0, 2, 1), [-3, -2, -1, 0, 1, 2, 3], 28)
    close(derivativeAt(even(2), 0, 3, 1), [1, -8, 0, 8, -1], 12)
    close(derivativeAt(even(3), 0, 3, 1), [22, -67, -58, 0, 58, 67, -22], 252)
    close(derivativeAt(even(2), 0, 2, 2), [2, -1, -2, -1, 2], 7)
    close(derivativeAt(even(3), 0, 2, 2), [5, 0, -3, -4, -3, 0, 5], 42)
  })

  it('is right to many digits far from zero and at a high degree', () => {
    const times = uneven.map((t) => 4000 + t)
    const found = derivativeAt(times, 4000.3, 5, 3).reduce(
      (sum, c, i) => sum + c * (times[i] - 4000.3) ** 3,
      0,
    )
    expect(found).toBeCloseTo(6, 5)
  })
})

describe('weighted derivatives', () => {
  it('have the slope of weighed least squares, nearer points the more', () => {
    const { map } = parabola.derive(at([0, 1, 2, 3, 4]), 1, 2, [], true)
    // (1 − (τ/3)³)³ at one and at two steps.
    const [one, two] = [(26 / 27) ** 3, (19 / 27) ** 3]
    const sum = 2 * (one + 4 * two)
    map.coefficients[2].forEach((coefficient, i) => {
      expect(coefficient).toBeCloseTo([-2 * two, -one, 0, one, 2 * two][i] / sum, 12)
    })
  })

  it('are exact for what their polynomial can follow, on any times', () => {
    const values = uneven.map((t) => 1 + 2 * t - 3 * t ** 3)
    const { rows, map } = cubic.derive(at(uneven), 2, 4, values, true)
    applyMap(map, values).forEach((bend, i) => {
      expect(bend).toBeCloseTo(-18 * uneven[rows[i]], 6)
    })
  })
})

describe('derivatives over a window', () => {
  it.each([1, 2, 5, 11])(
    'are exact for what their polynomial can follow, at the ends too (reach %i)',
    (reach) => {
      const quadratic = derived(parabola, uneven, 1, reach, (t) => 2 - 3 * t + 4 * t * t)
      expect(quadratic.rows).toEqual(uneven.map((_, i) => i))
      for (const i of quadratic.rows) expect(quadratic.values[i]).toBeCloseTo(-3 + 8 * uneven[i], 8)
      const bend = derived(cubic, uneven, 2, reach, (t) => t ** 3 - t * t)
      for (const i of bend.rows) expect(bend.values[i]).toBeCloseTo(6 * uneven[i] - 2, 7)
    },
  )

  it.each([
    ['parabola', 2],
    ['cubic', 4],
  ] as const)('of the %s miss by a power of the step inside: order %i', (id, order) => {
    const method = DERIVATIVES[id]
    const error = (step: number) => {
      const times = Array.from({ length: 41 }, (_, i) => (i - 20) * step)
      const { values } = derived(method, times, 1, 3, (t) => Math.sin(1 + 3 * t))
      return Math.abs(values[20] - 3 * Math.cos(1))
    }
    expect(Math.log2(error(0.02) / error(0.01))).toBeCloseTo(order, 1)
  })

  it('go over no break, no gap and no rest', () => {
    const times = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9]
    const rowsSeen = ({ map }: ReturnType<typeof parabola.derive>) =>
      map.start.map((start, i) => [start, start + map.coefficients[i].length - 1])
    const broken = parabola.derive(at(times, [4]), 1, 3, [])
    expect(rowsSeen(broken)).toEqual([...Array(4).fill([0, 3]), ...Array(6).fill([4, 9])])
    const gap = parabola.derive(at(times.map((t) => (t > 4 ? t + 10 : t))), 1, 2, [])
    expect(rowsSeen(gap)).toEqual([...Array(5).fill([0, 4]), ...Array(5).fill([5, 9])])
    const rest = { from: times, to: times.map((t) => (t === 4 ? 4.5 : t)), breaks: new Set<number>() }
    const { rows } = parabola.derive(rest, 1, 3, [])
    expect(rows).toEqual([0, 1, 2, 3, 5, 6, 7, 8, 9])
    // Off the rest from where it ends, with an acceleration of 2.
    const values = times.map((t) => (t > 4 ? (t - 4.5) ** 2 : 0))
    const speeds = applyMap(parabola.derive(rest, 1, 3, []).map, values)
    rows.forEach((row, i) => {
      expect(speeds[i]).toBeCloseTo(row > 4 ? 2 * (row - 4.5) : 0, 9)
    })
  })

  it('are none where there are too few points', () => {
    expect(parabola.derive(at([0, 1]), 1, 3, []).rows).toEqual([])
    expect(cubic.derive(at([0, 1, 2]), 1, 3, []).rows).toEqual([])
    expect(parabola.derive(at([]), 1, 3, []).rows).toEqual([])
  })

  it('tell how many of them say something of their own', () => {
    const { map } = parabola.derive(at(uneven), 1, 3, [])
    const white = linearMapWhitening(map)
    // The slopes at an end lie on one line, that of the first whole window: two of them tell the others.
    expect(white.rank).toBe(uneven.length - 4)
    expect(white(new Float64Array(uneven.length).fill(1)).every(Number.isFinite)).toBe(true)
  })
})

describe('intervals of derivatives', () => {
  const SIGMA = 0.002
  const CASES = [
    ['three-point', 1],
    ['parabola', 1],
    ['parabola', 2],
    ['cubic', 1],
    ['cubic', 2],
  ] as const

  /** In how many of many noisy repeats the interval of 95 % holds the truth, at each row; with the bias bound or without. */
  function coverage(
    method: typeof parabola,
    order: 1 | 2,
    reach: number,
    motion: (t: number) => number,
    truth: (t: number) => number,
    withBias: boolean,
  ): number[] {
    const points = at(uneven)
    const result = method.derive(points, order, reach, [])
    const sizes = result.map.coefficients.map((row) => SIGMA * Math.hypot(...row))
    const noise = normalSource(randomSource(11))
    const held = result.rows.map(() => 0)
    for (let n = 0; n < REPEATS; n++) {
      const values = uneven.map((t) => motion(t) + SIGMA * noise())
      const found = applyMap(result.map, values)
      const bias = withBias ? biasBounds(points, result, method.exact, values) : null
      result.rows.forEach((row, i) => {
        const most = 1.96 * sizes[i] + (bias ? bias[i] : 0)
        if (Math.abs(found[i] - truth(uneven[row])) <= most) held[i]++
      })
    }
    return held.map((count) => count / REPEATS)
  }

  it.each(CASES)('hold the truth in 95 of 100 where the model is exact: %s, order %i', (id, order) => {
    const method = DERIVATIVES[id]
    const truth = (t: number) => (order === 1 ? 4.2 - 9.81 * t : -9.81)
    const shares = coverage(method, order, 3, (t) => 4.2 * t - (9.81 / 2) * t * t, truth, false)
    for (const share of shares) {
      expect(share).toBeGreaterThan(0.93 - SHARE_MARGIN)
      expect(share).toBeLessThan(0.97 + SHARE_MARGIN)
    }
  })

  it.each(CASES)(
    'hold it where the motion bends too, with the bound on the bias: %s, order %i',
    (id, order) => {
      const method = DERIVATIVES[id]
      const truth = (t: number) => (order === 1 ? 5 * Math.cos(5 * t) : -25 * Math.sin(5 * t))
      const motion = (t: number) => Math.sin(5 * t)
      for (const share of coverage(method, order, 3, motion, truth, true))
        expect(share).toBeGreaterThan(0.93 - SHARE_MARGIN)
      // The bound is needed: a parabola over so many points can't follow this.
      if (method === parabola && order === 1)
        expect(Math.min(...coverage(method, order, 3, motion, truth, false))).toBeLessThan(0.5)
    },
  )
})

/** Solves linear equations, each a row with its right side last, by elimination with pivots. */
function solvedDense(rows: number[][]): number[] {
  const n = rows.length
  for (let k = 0; k < n; k++) {
    const pivot = rows.reduce(
      (most, row, i) => (i >= k && Math.abs(row[k]) > Math.abs(rows[most][k]) ? i : most),
      k,
    )
    ;[rows[k], rows[pivot]] = [rows[pivot], rows[k]]
    for (let i = 0; i < n; i++) {
      if (i === k) continue
      const factor = rows[i][k] / rows[k][k]
      for (let j = k; j <= n; j++) rows[i][j] -= factor * rows[k][j]
    }
  }
  return rows.map((row, i) => row[n] / row[i])
}

describe('a smoothing spline', () => {
  const { spline } = DERIVATIVES
  const rows = (motion: (t: number) => number, times = uneven, order: 1 | 2 = 1) =>
    derived(spline, times, order, 3, motion)

  it('is exact for uniform acceleration, at the ends too', () => {
    for (const order of [1, 2] as const) {
      const { rows: all, values } = rows((t) => 2 - 3 * t + 4 * t * t, uneven, order)
      expect(all).toEqual(uneven.map((_, i) => i))
      values.forEach((value, i) => {
        expect(value).toBeCloseTo(order === 1 ? -3 + 8 * uneven[i] : 8, 6)
      })
    }
  })

  it('goes through the points where they say that there is no noise', () => {
    const times = Array.from({ length: 80 }, (_, i) => i / 30)
    const { values } = rows((t) => Math.sin(5 * t), times)
    for (let i = 10; i < 70; i++) expect(Math.abs(values[i] - 5 * Math.cos(5 * times[i]))).toBeLessThan(2e-4)
  })

  it('is that of the textbook: by reproducing kernels, its smoothing by leaving out each point in turn', () => {
    const noise = normalSource(randomSource(2))
    const times = Array.from({ length: 14 }, (_, i) => i + 0.3 * Math.sin(5 * i))
    const values = times.map((t) => Math.sin(t / 2) + 0.05 * noise())
    // Wahba, Spline Models for Observational Data (1990), 1.3: f = Σ dₖtᵏ + Σ cᵢK(·, tᵢ), (K + λI)c + Td = y, Tᵀc = 0.
    const kernel = (s: number, t: number) => {
      const [m, d] = [Math.min(s, t), Math.abs(s - t)]
      return (m ** 5 / 5 + (d * m ** 4) / 2 + (d * d * m ** 3) / 3) / 4
    }
    const slope = (s: number, t: number) => {
      const [m, d] = [Math.min(s, t), Math.abs(s - t)]
      const byDistance = (m ** 4 / 2 + (2 * d * m ** 3) / 3) / 4
      return s < t ? (m ** 4 + 2 * d * m ** 3 + d * d * m * m) / 4 - byDistance : byDistance
    }
    const laid = (t: number[], y: number[], lambda: number) => {
      const n = t.length
      const rows = t.map((at, i) => [
        ...t.map((other, j) => kernel(at, other) + (i === j ? lambda : 0)),
        1,
        at,
        at * at,
        y[i],
      ])
      for (const k of [0, 1, 2]) rows.push([...t.map((at) => at ** k), 0, 0, 0, 0])
      const solution = solvedDense(rows)
      const [c, d] = [solution.slice(0, n), solution.slice(n)]
      const sum = (by: (at: number) => number) => c.reduce((all, one, i) => all + one * by(t[i]), 0)
      return {
        at: (time: number) => d[0] + d[1] * time + d[2] * time ** 2 + sum((other) => kernel(time, other)),
        slope: (time: number) => d[1] + 2 * d[2] * time + sum((other) => slope(time, other)),
      }
    }
    const missed = (lambda: number) =>
      times.reduce((sum, time, i) => {
        const without = (list: number[]) => list.filter((_, j) => j !== i)
        return sum + (laid(without(times), without(values), lambda).at(time) - values[i]) ** 2
      }, 0)
    const lambdas = Array.from({ length: 81 }, (_, i) => 10 ** (-2 + i / 20))
    const best = lambdas.reduce((least, one) => (missed(one) < missed(least) ? one : least))
    const textbook = laid(times, values, best)
    const { map } = spline.derive(at(times), 1, 3, values)
    applyMap(map, values).forEach((value, i) => {
      expect(Math.abs(value - textbook.slope(times[i]))).toBeLessThan(0.01)
    })
    // A smoothing that is ten times as strong is seen to be another one.
    const other = laid(times, values, 10 * best)
    const apart = times.map((time) => Math.abs(other.slope(time) - textbook.slope(time)))
    expect(Math.max(...apart)).toBeGreaterThan(0.03)
  })

  it('is by itself about as good as the best window that could have been chosen', () => {
    const noise = normalSource(randomSource(4))
    const times = Array.from({ length: 90 }, (_, i) => i / 30)
    const ways = [
      { method: spline, reach: 1 },
      ...[1, 2, 3, 4, 6, 8, 12, 16].map((reach) => ({ method: cubic, reach })),
    ]
    const misses = ways.map(() => 0)
    for (let repeat = 0; repeat < 30; repeat++) {
      const values = times.map((t) => Math.sin(4 * t) + 0.01 * noise())
      ways.forEach(({ method, reach }, way) => {
        const { rows: all, map } = method.derive(at(times), 1, reach, values)
        applyMap(map, values).forEach((value, i) => {
          misses[way] += (value - 4 * Math.cos(4 * times[all[i]])) ** 2
        })
      })
    }
    const [own, ...windows] = misses
    expect(own).toBeLessThan(1.2 * Math.min(...windows))
    // It could not be had by any window: three of them are off by more than twice as much.
    expect(windows.filter((miss) => miss > 4 * own).length).toBeGreaterThanOrEqual(3)
  })

  it('holds the truth in 93 to 97 of 100 intervals, on the average over points; with the bound on few points too', () => {
    const swing = {
      motion: (t: number) => Math.sin(5 * t),
      truth: [(t: number) => 5 * Math.cos(5 * t), (t: number) => -25 * Math.sin(5 * t)],
    }
    const fall = {
      motion: (t: number) => 4.2 * t - (9.81 / 2) * t * t,
      truth: [(t: number) => 4.2 - 9.81 * t, () => -9.81],
    }
    const long = Array.from({ length: 200 }, (_, i) => i / 30 + 0.009 * Math.sin(12.9 * i))
    const noise = normalSource(randomSource(8))
    const sigma = 0.02
    const share = (
      times: number[],
      { motion, truth }: typeof swing,
      order: 1 | 2,
      repeats: number,
      bounded: boolean,
    ) => {
      let [held, all] = [0, 0]
      for (let n = 0; n < repeats; n++) {
        const values = times.map((t) => motion(t) + sigma * noise())
        const result = spline.derive(at(times), order, 3, values)
        const bias = bounded ? biasBounds(at(times), result, spline.exact, values) : null
        applyMap(result.map, values).forEach((value, i) => {
          const error = result.widened![i] * sigma * Math.hypot(...result.map.coefficients[i])
          all++
          if (Math.abs(value - truth[order - 1](times[i])) <= 1.96 * error + (bias ? bias[i] : 0)) held++
        })
      }
      return held / all
    }
    for (const order of [1, 2] as const) {
      for (const found of [share(uneven, fall, order, 400, false), share(long, swing, order, 60, false)]) {
        expect(found).toBeGreaterThan(0.93)
        expect(found).toBeLessThan(0.97)
      }
      expect(share(uneven, swing, order, 100, true)).toBeGreaterThan(0.93)
    }
  })
})
