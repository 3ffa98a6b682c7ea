import { describe, expect, it } from 'vitest'
import { chiSquareBeyond, studentQuantile } from './index.ts'

/** Critical values from the NIST/SEMATECH e-Handbook of Statistical Methods, tables 1.3.6.7.2 and 1.3.6.7.4. */

describe('the χ² distribution', () => {
  it.each([
    [1, 3.841, 0.05],
    [4, 9.488, 0.05],
    [10, 18.307, 0.05],
    [10, 23.209, 0.01],
    [100, 124.342, 0.05],
    [50, 34.764, 0.95],
    [3, 0.352, 0.95],
  ])(
    'with %d degrees of freedom exceeds %f with its published probability',
    (freedom, value, probability) => {
      expect(Math.abs(chiSquareBeyond(value, freedom) - probability)).toBeLessThan(2e-4)
    },
  )

  it('with two degrees of freedom is an exponential', () => {
    for (const value of [0.01, 0.5, 2, 7, 40])
      expect(chiSquareBeyond(value, 2)).toBeCloseTo(Math.exp(-value / 2), 13)
    expect(chiSquareBeyond(0, 5)).toBe(1)
    expect(chiSquareBeyond(3000, 5)).toBe(0)
  })

  // erfc(1/2), erfc(1), erfc(2): DLMF, table 7.23(i).
  it.each([
    [0.5, 0.4795001221869535],
    [2, 0.15729920705028513],
    [8, 0.004677734981047266],
  ])('with one degree of freedom is the square of a normal variable: beyond %f', (value, probability) => {
    expect(Math.abs(chiSquareBeyond(value, 1) / probability - 1)).toBeLessThan(1e-13)
  })
})

describe('Student’s t', () => {
  // Two-sided 95 % points from printed tables.
  it.each([
    [1, 12.7062, 5e-5],
    [5, 2.5706, 5e-5],
    [20, 2.086, 5e-4],
    [Number.POSITIVE_INFINITY, 1.96, 5e-5],
  ])('has its tabled quantile at %d degrees of freedom', (freedom, quantile, rounding) => {
    expect(Math.abs(studentQuantile(0.95, freedom) - quantile)).toBeLessThan(1.01 * rounding)
  })
})
