import { expect, it } from 'vitest'
import { autoregressiveWhitening, linearMapWhitening } from './index.ts'

it('whitening of errors in a row is that by the Cholesky factor of their covariance', () => {
  const errors = [0.3, 0.5, 0.2, 0.9, 0.4]
  const correlations = [0, 0.7, 0.2, 0.9, 0.5]
  // The factor itself, as a map: each error is a share of the one before, and one of its own.
  const rows: number[][] = [[1, 0, 0, 0, 0]]
  for (let i = 1; i < 5; i++) {
    rows.push(rows[i - 1].map((one) => correlations[i] * one))
    rows[i][i] = Math.sqrt(1 - correlations[i] ** 2)
  }
  const coefficients = rows.map((row, i) => row.map((one) => errors[i] * one))
  const [inRow, byFactor] = [
    autoregressiveWhitening(errors, correlations),
    linearMapWhitening({ start: [0, 0, 0, 0, 0], coefficients }),
  ]
  const values = Float64Array.of(1, -2, 0.5, 3, -0.7)
  expect([...inRow(values)]).toEqual([...byFactor(values)].map((one) => expect.closeTo(one, 10)))
  expect([...inRow.transposed(values)]).toEqual(
    [...byFactor.transposed(values)].map((one) => expect.closeTo(one, 10)),
  )
})
