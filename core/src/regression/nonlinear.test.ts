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
  it('recovers exact parameters from a distant start', () => {
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

  it('equals the linear fit for a linear model, cofactors included', () => {
    const noise = noiseFrom(3)
    const rows = Array.from(times, (t) => Float64Array.from([1, t, t * t]))
    const y = Float64Array.from(times, (t) => 2 - t + 4 * t * t + 0.1 * noise())
    const evaluate: Evaluate = (parameters, values, jacobian) => {
      rows.forEach((row, i) => {
        values[i] = row.reduce((sum, one, k) => sum + one * parameters[k], 0)
        if (jacobian) for (const [k, one] of row.entries()) jacobian[k][i] = one
      })
    }
    const fit = fitNonlinear({ y, evaluate, start: [0, 0, 0] })
    const expected = leastSquares(rows, y)
    for (let k = 0; k < 3; k++) {
      expect(fit.parameters[k]).toBeCloseTo(expected.parameters[k], 10)
      for (let m = 0; m < 3; m++) expect(fit.cofactors[k][m]).toBeCloseTo(expected.cofactors[k][m], 10)
    }
    expect(fit.freedom).toBe(37)
    expect(linearParameters(evaluate, [1, 2, 3], times.length)).toEqual([0, 1, 2])
  })

  it('states the standard errors that repeats scatter by, and intervals with the stated coverage', () => {
    const noise = noiseFrom(11)
    const truth = [0.4, -1.3, 0.37]
    const exact = valuesOf(settling, ...truth)
    let [held, ratio] = [0, 0]
    for (let repeat = 0; repeat < REPEATS; repeat++) {
      const y = exact.map((value) => value + 0.01 * noise())
      const { parameters, cofactors, rss, freedom } = fitNonlinear({
        y,
        evaluate: settling,
        start: [0, -1, 1],
        linear: [0, 1],
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

  it('takes the covariance of values into account', () => {
    // Each value is a mark minus the one before: the best fit is that of the marks themselves.
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
    // Treated as independent they would seem noisier by a half.
    expect(spread(plain)).toBeGreaterThan(1.2 * spread(whole))
  })

  it('stays within bounds, and says which are active', () => {
    const { parameters, atBound, freedom } = fitNonlinear({
      y: valuesOf(settling, 0.4, -1.3, 0.37),
      evaluate: settling,
      start: [0, -1, 1],
      lower: [0, -5, 0.5],
      upper: [5, 5, 5],
    })
    expect(parameters[2]).toBe(0.5)
    expect(atBound).toEqual([false, false, true])
    expect(freedom).toBe(38)
  })

  it('is refused where the points do not determine the parameters', () => {
    const product: Evaluate = ([a, b], values, jacobian) => {
      times.forEach((t, i) => {
        values[i] = a * b * t
        if (jacobian) {
          jacobian[0][i] = b * t
          jacobian[1][i] = a * t
        }
      })
    }
    const y = times.map((t) => 3 * t)
    expect(() => fitNonlinear({ y, evaluate: product, start: [1, 1] })).toThrow(FitError)
    expect(() => fitNonlinear({ y: y.slice(0, 1), evaluate: product, start: [1, 1] })).toThrow(
      /too-few-points.*2/,
    )
    expect(() => fitNonlinear({ y, evaluate: settling, start: [0, 1, 0] })).toThrow(FitError)
    expect(() => fitNonlinear({ y, evaluate: () => {}, start: [] })).toThrow(/no-parameters/)
    expect(() => fitNonlinear({ y: y.fill(Number.NaN), evaluate: settling, start: [0, 1, 1] })).toThrow(
      /no-value-at-start/,
    )
  })
})

describe('linearParameters', () => {
  it('finds the parameters whose derivatives are constant', () => {
    expect(linearParameters(settling, [0.4, -1.3, 0.37], times.length)).toEqual([0, 1])
  })
})
