import { describe, expect, it } from 'vitest'
import { digits, list } from '../testing/published.ts'
import { type Evaluate, fitNonlinear } from './index.ts'

/**
 * Published reference results: Nelson of the NIST Statistical Reference Datasets for nonlinear regression (Nelson, IEEE Trans.
 * Reliability 30 (1981) 149): the logarithm of what is observed against two predictors, with parameters that differ by eight powers
 * of ten.
 */

const WEEKS = [1, 2, 4, 8, 16, 32, 48, 64]
const DEGREES = [180, 225, 250, 275]
const EACH = 4

const observed = list(`
  15 17 15.5 16.5 15.5 15 16 14.5 15 14.5 12.5 11 14 13 14 11.5 14 16 13 13.5 13 13.5 12.5 12.5 12.5 12 11.5 12 13 11.5 13 12.5
  13.5 17.5 17.5 13.5 12.5 12.5 15 13 12 13 12 13.5 10 11.5 11 9.5 15 15 15.5 16 13 10.5 13.5 14 12.5 12 11.5 11.5 6.5 5.5 6 6
  18.5 17 15.3 16 13 14 12.5 11 12 12 11.5 12 6 6 5 5.5 12.5 13 16 12 11 9.5 11 11 11 10 10.5 10.5 2.7 2.7 2.5 2.4
  13 13.5 16.5 13.6 11.5 10.5 13.5 12 7 6.9 8.8 7.9 1.2 1.5 1 1.5 13 12.5 16.5 16 11 11.5 10.5 10 7.27 7.5 6.7 7.6 1.5 1 1.2 1.2`)
const setting = observed.map((_, i) => ({
  weeks: WEEKS[Math.floor(i / (EACH * DEGREES.length))],
  degrees: DEGREES[Math.floor(i / EACH) % DEGREES.length],
}))

/** b1 − b2 x1 exp(−b3 x2). */
const evaluate: Evaluate = ([b1, b2, b3], values, jacobian) => {
  setting.forEach(({ weeks, degrees }, i) => {
    const grown = weeks * Math.exp(-b3 * degrees)
    values[i] = b1 - b2 * grown
    if (!jacobian) return
    jacobian[0][i] = 1
    jacobian[1][i] = -grown
    jacobian[2][i] = b2 * degrees * grown
  })
}

const CERTIFIED = {
  parameters: [2.5906836021, 5.6177717026e-9, -5.7701013174e-2],
  errors: [1.9149996413e-2, 6.112409654e-9, 3.9572366543e-3],
  rss: 3.7976833176,
}

describe('NIST Nelson', () => {
  it.each([
    [2, 0.0001, -0.01],
    [2.5, 0.000000005, -0.05],
  ])('has its certified parameters and standard errors from %d, %d, %d', (...start) => {
    const { parameters, cofactors, rss, freedom } = fitNonlinear({
      y: observed.map(Math.log),
      evaluate,
      start,
      linear: [0, 1],
    })
    CERTIFIED.parameters.forEach((certified, k) => {
      expect(digits(parameters[k], certified)).toBeGreaterThan(9)
      const error = Math.sqrt((cofactors[k][k] * rss) / freedom)
      expect(digits(error, CERTIFIED.errors[k])).toBeGreaterThan(8)
    })
    expect(digits(rss, CERTIFIED.rss)).toBeGreaterThan(8)
  })
})
