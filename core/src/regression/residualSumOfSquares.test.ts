import { describe, expect, it } from 'vitest'
import { randomSource } from '../random/index.ts'
import { leastSquares, residualSumOfSquares } from './index.ts'

describe('residualSumOfSquares', () => {
  const random = randomSource(7)
  const rows = Array.from({ length: 24 }, (_, i) => {
    const u = (i - 12) / 12
    return Float64Array.from(i < 12 ? [1, u, 0, 0, u * u] : [0, 0, 1, u, u * u])
  })
  const columns = () => rows[0].map((_, k) => k)
  const design = () => Array.from(columns(), (k) => Float64Array.from(rows, (row) => row[k]))
  const values = () => Float64Array.from(rows, () => 600 + 80 * random())

  it('equals the residual sum of squares of a fit, summed over several columns of values', () => {
    const [x, y] = [values(), values()]
    const expected = leastSquares(rows, x).rss + leastSquares(rows, y).rss
    expect(residualSumOfSquares(design(), [x.slice(), y.slice()]) / expected).toBeCloseTo(1, 9)
  })

  it('is 0 where the design contains the values', () => {
    const exact = Float64Array.from(rows, (row) => row.reduce((sum, one, k) => sum + (k + 3) * one, 0))
    expect(residualSumOfSquares(design(), [exact])).toBeLessThan(1e-20)
  })

  it('ignores a linearly dependent column', () => {
    const y = values()
    const twice = [...design(), Float64Array.from(rows, (row) => 3 * row[4] - row[0])]
    expect(
      residualSumOfSquares(twice, [y.slice()]) / residualSumOfSquares(design(), [y.slice()]),
    ).toBeCloseTo(1, 9)
  })
})
