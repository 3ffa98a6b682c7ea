import { product, squares, takeTimes } from './product.ts'

/** A column that is no longer than this share of itself, once others are taken out, is one of them. */
const DEPENDENT = 1e-10

/**
 * What least squares leaves of several columns of values beside the same columns of a design, as the sum of all their
 * squared residuals: by modified Gram and Schmidt (Björck, BIT 7 (1967) 1), without the parameters, which makes it
 * many times quicker where only the rest is asked for. Columns that depend on earlier ones count for nothing.
 *
 * @param columns of the design, changed by this
 * @param values as long as the columns, changed by this to what is left of them
 */
export function restBeside(columns: Float64Array[], values: Float64Array[]): number {
  columns.forEach((column, k) => {
    const before = squares(column)
    for (let j = 0; j < k; j++) takeOut(column, columns[j])
    const norm = Math.sqrt(squares(column))
    const scale = norm > DEPENDENT * Math.sqrt(before) ? 1 / norm : 0
    for (let i = 0; i < column.length; i++) column[i] *= scale
  })
  let rest = 0
  for (const value of values) {
    for (const column of columns) takeOut(value, column)
    rest += squares(value)
  }
  return rest
}

/** Takes out of a column what it has in common with one of unit length. */
function takeOut(column: Float64Array, unit: Float64Array): void {
  const common = product(column, unit)
  takeTimes(column, unit, common)
}
