/** Inner product of two columns of numbers. */
export function product(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let sum = 0
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i]
  return sum
}

/** Sum of the squares of a column. */
export const squares = (values: ArrayLike<number>) => product(values, values)
