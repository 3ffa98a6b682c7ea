import { describe, expect, it } from 'vitest'
import { randomSource } from '../random/index.ts'
import { FitError, leastSquares } from './index.ts'
import { QrFactor } from './qrFactor.ts'

const random = randomSource(4)
const columns = Array.from({ length: 4 }, () => Float64Array.from({ length: 30 }, () => random() - 0.3))
const values = Float64Array.from({ length: 30 }, () => 2 * random())
const rows = Array.from(values, (_, i) => Float64Array.from(columns, (column) => column[i]))

describe('QrFactor', () => {
  const qr = new QrFactor(4, 30).factorise(columns, values)
  const expected = leastSquares(rows, values)

  it('solves for the least-squares solution, its cofactors and the residual sum of squares', () => {
    const step = qr.solve(null)!
    const cofactors = qr.cofactors([0, 1, 2, 3], 4)
    for (let k = 0; k < 4; k++) {
      expect(step[k]).toBeCloseTo(expected.parameters[k], 12)
      for (let m = 0; m < 4; m++) expect(cofactors[k][m]).toBeCloseTo(expected.cofactors[k][m], 12)
    }
    expect(qr.residualSquares).toBeCloseTo(expected.rss, 12)
    const all = values.reduce((sum, value) => sum + value * value, 0)
    expect(qr.projectedNorm ** 2 + qr.residualSquares).toBeCloseTo(all, 12)
    // The undamped step removes the whole projection onto the column space.
    expect(qr.predictedReduction(step)).toBeCloseTo(qr.projectedNorm ** 2, 12)
  })

  it('solves the damped problem: the same as with one more row for each parameter', () => {
    const damping = Float64Array.from([0.3, 2, 0, 5])
    const more = Array.from(damping, (by, k) => Float64Array.from(damping, (_, m) => (m === k ? by : 0)))
    const damped = leastSquares([...rows, ...more], [...values, 0, 0, 0, 0])
    const step = qr.solve(damping)!
    for (let k = 0; k < 4; k++) expect(step[k]).toBeCloseTo(damped.parameters[k], 12)
  })

  it('solves for other values with the same columns', () => {
    const other = values.map((value, i) => value * value - i)
    const direct = leastSquares(rows, other)
    const step = qr.solve(null, other)!
    for (let k = 0; k < 4; k++) expect(step[k]).toBeCloseTo(direct.parameters[k], 10)
  })

  it('has no solution for linearly dependent columns, unless damped', () => {
    const same = new QrFactor(2, 30).factorise([columns[0], columns[0]], values)
    expect(same.solve(null)).toBeNull()
    expect(() => same.cofactors([0, 1], 2)).toThrow(FitError)
    const [a, b] = same.solve(Float64Array.from([1, 1]))!
    expect(a).toBeCloseTo(b, 12)
  })

  it('returns the norm of a column orthogonal to the first ones', () => {
    const { rss } = leastSquares(
      rows.map((row) => row.slice(0, 2)),
      columns[3],
    )
    expect(qr.columnNormFrom(3, 2)).toBeCloseTo(Math.sqrt(rss), 12)
  })
})
