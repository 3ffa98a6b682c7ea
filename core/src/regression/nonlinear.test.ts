import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import { REPEATS, SCATTER_MARGIN, SHARE_MARGIN } from '../testing/extent.ts'
import { settlingAt } from '../testing/settling.ts'
import {
  type Evaluate,
  FitError,
  fitNonlinear,
  leastSquares,
  linearMapWhitening,
  linearParameters,
} from './index.ts'

const times = Float64Array.from({ length: 40 }, (_, i) => i / 20 + 0.003 * (i % 3))

const settling = settlingAt(times)
const valuesOf = (evaluate: Evaluate, ...parameters: number[]) => {
  const values = new Float64Array(times.length)
  evaluate(Float64Array.from(parameters), values, null)
  return values
}
/** Standard normal noise. */
const noiseFrom = (seed: number) => normalSource(randomSource(seed))

describe('a nonlinear fit', () => {
  it('finds what exact values were made of, from far away', () => {
    const { parameters, rss } = fitNonlinear({
      y: valuesOf(settling, 0.4, -1.3, 0.37),
      evaluate: settling,
      start: [0, 1, 5],
      linear: [0, 1],
    })
    expect(parameters[0]).toBeCloseTo(0.4, 10)
    expect(parameters[1]).toBeCloseTo(-1.3, 10)
    expect(parameters[2]).toBeCloseTo(0.37, 10)
    expect(rss).toBeLessThan(1e-22)
  })

  it('of what is linear is the linear fit, errors and all', () => {
    const noise = noiseFrom(3)
    const rows = Array.from(times, (t) => Float64Array.from([1, t, t * t]))
    const y = Float64Array.from(times, (t) => 2 - t + 4 * t * t + 0.1 * noise())
    const evaluate: Evaluate = (parameters, values, slopes) => {
      rows.forEach((row, i) => {
        values[i] = row.reduce((sum, one, k) => sum + one * parameters[k], 0)
        if (slopes) for (const [k, one] of row.entries()) slopes[k][i] = one
      })
    }
    const fit = fitNonlinear({ y, evaluate, start: [0, 0, 0] })
    const told = leastSquares(rows, y)
    for (let k = 0; k < 3; k++) {
      expect(fit.parameters[k]).toBeCloseTo(told.parameters[k], 10)
      for (let m = 0; m < 3; m++) expect(fit.cofactors[k][m]).toBeCloseTo(told.cofactors[k][m], 10)
    }
    expect(fit.freedom).toBe(37)
    expect(linearParameters(evaluate, [1, 2, 3], times.length)).toEqual([0, 1, 2])
  })

  it('states errors that repeats scatter by, and intervals that hold the truth as often as they say', () => {
    const noise = noiseFrom(11)
    const truth = [0.4, -1.3, 0.37]
    const exact = valuesOf(settling, ...truth)
    let [held, ratio] = [0, 0]
    for (let repeat = 0; repeat < REPEATS; repeat++) {
      const y = exact.map((value) => value + 0.01 * noise())
      const { parameters, cofactors, rss, freedom } = fitNonlinear({
        ...{ y, evaluate: settling, start: [0, -1, 1], linear: [0, 1] },
      })
      const error = Math.sqrt((cofactors[2][2] * rss) / freedom)
      const off = (parameters[2] - truth[2]) / error
      ratio += off * off
      // Student's 97.5 % quantile for 37 degrees of freedom.
      if (Math.abs(off) < 2.026) held++
    }
    expect(held / REPEATS).toBeGreaterThan(0.93 - SHARE_MARGIN)
    expect(held / REPEATS).toBeLessThan(0.97 + SHARE_MARGIN)
    // Of Student's distribution the variance is ν/(ν − 2).
    expect(Math.abs(Math.sqrt(ratio / REPEATS / (37 / 35)) - 1)).toBeLessThan(0.05 + SCATTER_MARGIN)
  })

  it('of values that share marks knows that they do', () => {
    // Each value is a mark less the one before: the best fit is that of the marks themselves.
    const noise = noiseFrom(5)
    const marks = Float64Array.from({ length: times.length + 1 }, () => 0.02 * noise())
    const y = valuesOf(settling, 0.4, -1.3, 0.37).map((value, i) => value + marks[i + 1] - marks[i])
    const whiten = linearMapWhitening({
      start: Array.from(times, (_, i) => i),
      coefficients: Array.from(times, () => [-1, 1]),
    })
    const whole = fitNonlinear({ y, evaluate: settling, start: [0, -1, 1], whiten })
    const plain = fitNonlinear({ y, evaluate: settling, start: [0, -1, 1] })
    const spread = (fit: typeof whole) => Math.sqrt(fit.rss / fit.freedom)
    expect(spread(whole)).toBeGreaterThan(0.015)
    expect(spread(whole)).toBeLessThan(0.025)
    // Taken for independent they would seem half as noisy again.
    expect(spread(plain)).toBeGreaterThan(1.2 * spread(whole))
  })

  it('stays within bounds, and says which hold it', () => {
    const { parameters, atBound, freedom } = fitNonlinear({
      ...{ y: valuesOf(settling, 0.4, -1.3, 0.37), evaluate: settling, start: [0, -1, 1] },
      ...{ lower: [0, -5, 0.5], upper: [5, 5, 5] },
    })
    expect(parameters[2]).toBe(0.5)
    expect(atBound).toEqual([false, false, true])
    expect(freedom).toBe(38)
  })

  it('is refused where the points can’t tell', () => {
    const product: Evaluate = ([a, b], values, slopes) => {
      times.forEach((t, i) => {
        values[i] = a * b * t
        if (slopes) {
          slopes[0][i] = b * t
          slopes[1][i] = a * t
        }
      })
    }
    const y = times.map((t) => 3 * t)
    expect(() => fitNonlinear({ y, evaluate: product, start: [1, 1] })).toThrow(FitError)
    expect(() => fitNonlinear({ y: y.slice(0, 1), evaluate: product, start: [1, 1] })).toThrow(/at least 2/)
    expect(() => fitNonlinear({ y, evaluate: settling, start: [0, 1, 0] })).toThrow(FitError)
    expect(() => fitNonlinear({ y, evaluate: () => {}, start: [] })).toThrow(/no parameter/)
    expect(() => fitNonlinear({ y: y.fill(Number.NaN), evaluate: settling, start: [0, 1, 1] })).toThrow(
      /no value/,
    )
  })
})

describe('what a model is linear in', () => {
  it('is told by its slopes', () => {
    expect(linearParameters(settling, [0.4, -1.3, 0.37], times.length)).toEqual([0, 1])
  })
})
