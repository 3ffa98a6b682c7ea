import { dotProduct, subtractScaled, sumOfSquares } from './vectorMath.ts'

/** A column is linearly dependent if its part orthogonal to the others is shorter than this fraction of it. */
const DEPENDENT = 1e-10

/**
 * Returns the total residual sum of squares of several columns of values regressed on the same design, by modified
 * Gram–Schmidt orthogonalisation (Björck, BIT 7 (1967) 1). Faster than a fit, since no parameters are computed. Linearly
 * dependent columns of the design are ignored.
 *
 * @param columns columns of the design, length n each; overwritten
 * @param values columns of values, length n each; overwritten by their residuals
 */
export function residualSumOfSquares(columns: Float64Array[], values: Float64Array[]): number {
  columns.forEach((column, k) => {
    const before = sumOfSquares(column)
    for (let j = 0; j < k; j++) orthogonalise(column, columns[j])
    const norm = Math.sqrt(sumOfSquares(column))
    const scale = norm > DEPENDENT * Math.sqrt(before) ? 1 / norm : 0
    for (let i = 0; i < column.length; i++) column[i] *= scale
  })
  let rss = 0
  for (const value of values) {
    for (const column of columns) orthogonalise(value, column)
    rss += sumOfSquares(value)
  }
  return rss
}

/** Subtracts from a column its projection onto a unit vector, in place. */
function orthogonalise(column: Float64Array, unit: Float64Array): void {
  subtractScaled(column, unit, dotProduct(column, unit))
}
