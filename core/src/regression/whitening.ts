import { FitError } from './leastSquares.ts'
import { type LinearMap, rowProduct } from './linearMap.ts'

/** Turns values with covariance LLᵀ into uncorrelated ones of unit variance, by solving Lw = v. */
export type Whiten = (values: Float64Array) => Float64Array

/**
 * Whitening for values that a linear map D makes from independent marks: L is the Cholesky factor of
 * DDᵀ, which is as banded as D is (Golub and Van Loan, Matrix Computations, 4.3.5). Generalised least
 * squares is then ordinary least squares on whitened values (Aitken 1936).
 *
 * @throws FitError where rows depend on each other, so that there is no such factor
 */
export function whitening(map: LinearMap): Whiten {
  const n = map.start.length
  const width = map.coefficients.reduce((most, row) => Math.max(most, row.length), 1)
  // factor[i][k] is L at row i, column i − width + 1 + k.
  const factor = Array.from({ length: n }, () => new Float64Array(width))
  const at = (i: number, j: number) => j - i + width - 1
  for (let i = 0; i < n; i++)
    for (let j = Math.max(0, i - width + 1); j <= i; j++) {
      let sum = rowProduct(map, i, j)
      for (let k = Math.max(0, i - width + 1, j - width + 1); k < j; k++)
        sum -= factor[i][at(i, k)] * factor[j][at(j, k)]
      if (i !== j) factor[i][at(i, j)] = sum / factor[j][width - 1]
      else if (sum > 0) factor[i][width - 1] = Math.sqrt(sum)
      else throw new FitError('The derived values depend on each other too closely to be fitted.')
    }
  return (values) => {
    const white = new Float64Array(n)
    for (let i = 0; i < n; i++) {
      let rest = values[i]
      for (let j = Math.max(0, i - width + 1); j < i; j++) rest -= factor[i][at(i, j)] * white[j]
      white[i] = rest / factor[i][width - 1]
    }
    return white
  }
}
