/**
 * Inner product of two columns of numbers, from one of their elements on. Four sums side by side: none has to wait for
 * the one before. Of one kind of list only, and written the way engines are quickest with: most of the time of a fit is
 * spent here.
 */
export function product(a: Float64Array, b: Float64Array, from = 0): number {
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

/** Sum of the squares of a column. */
export const squares = (values: Float64Array) => product(values, values)

/** Takes another column times a number from a column, from one of their elements on. */
export function takeTimes(column: Float64Array, other: Float64Array, by: number, from = 0): void {
  const end = column.length
  let i = from
  for (; i < end - 3; i += 4) {
    column[i] -= by * other[i]
    column[i + 1] -= by * other[i + 1]
    column[i + 2] -= by * other[i + 2]
    column[i + 3] -= by * other[i + 3]
  }
  for (; i < end; i++) column[i] -= by * other[i]
}
