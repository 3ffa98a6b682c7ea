/**
 * Returns Σ a[i]·b[i] for i ≥ `from`. Four independent sums, and typed arrays only, so that engines compile it well: most of
 * the time of a fit is spent here.
 */
export function dotProduct(a: Float64Array, b: Float64Array, from = 0): number {
  let first = 0
  let second = 0
  let third = 0
  let fourth = 0
  const end = a.length
  let i = from
  for (; i < end - 3; i += 4) {
    first += a[i] * b[i]
    second += a[i + 1] * b[i + 1]
    third += a[i + 2] * b[i + 2]
    fourth += a[i + 3] * b[i + 3]
  }
  for (; i < end; i++) first += a[i] * b[i]
  return first + second + (third + fourth)
}

/** Returns Σ values[i]². */
export const sumOfSquares = (values: Float64Array) => dotProduct(values, values)

/** Subtracts `factor · other[i]` from `column[i]` for i ≥ `from`, in place. */
export function subtractScaled(column: Float64Array, other: Float64Array, factor: number, from = 0): void {
  const end = column.length
  let i = from
  for (; i < end - 3; i += 4) {
    column[i] -= factor * other[i]
    column[i + 1] -= factor * other[i + 1]
    column[i + 2] -= factor * other[i + 2]
    column[i + 3] -= factor * other[i + 3]
  }
  for (; i < end; i++) column[i] -= factor * other[i]
}
