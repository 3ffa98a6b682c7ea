/**
 * Inner product of two columns of numbers, from one of their elements on. Four sums side by side: none has to wait for
 * the one before.
 */
export function product(a: ArrayLike<number>, b: ArrayLike<number>, from = 0): number {
  let [first, second, third, fourth] = [0, 0, 0, 0]
  const end = a.length
  let i = from
  for (; i + 3 < end; i += 4) {
    first += a[i] * b[i]
    second += a[i + 1] * b[i + 1]
    third += a[i + 2] * b[i + 2]
    fourth += a[i + 3] * b[i + 3]
  }
  for (; i < end; i++) first += a[i] * b[i]
  return first + second + (third + fourth)
}

/** Sum of the squares of a column. */
export const squares = (values: ArrayLike<number>) => product(values, values)
