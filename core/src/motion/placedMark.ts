import type { Matrix2, Point } from '../geometry/index.ts'

/** A mark with its calibration applied. */
export interface PlacedMark {
  frame: number
  place: Point
  jacobian: Matrix2
  second: { place: Point; jacobian: Matrix2 } | null
  /** Standard error along each direction, in pixels. */
  error: number
}

/**
 * How a number goes with one of the mark's errors, by its number, where it goes so with the place and the second place
 * in the scene: by one standard error along x and y of the picture (0 and 1), and of the second point (2 and 3).
 */
export function swayBy(
  { jacobian, second, error }: PlacedMark,
  slopes: readonly number[],
  which: number,
): number {
  const isFirst = which < 2
  if (!isFirst && (!second || slopes.length < 4)) return 0
  const [[a, b], [c, d]] = isFirst ? jacobian : second!.jacobian
  const [x, y] = isFirst ? [slopes[0], slopes[1]] : [slopes[2], slopes[3]]
  return error * (which % 2 === 0 ? a * x + c * y : b * x + d * y)
}

/** Standard error of a number that goes so with the place and the second place. */
export function errorOf({ jacobian, second, error }: PlacedMark, slopes: readonly number[]): number {
  // The sum of the squares of `swayBy`, written out: there is one for every value of every table.
  const [[a, b], [c, d]] = jacobian
  const [x, y] = slopes
  let variance = (a * x + c * y) ** 2 + (b * x + d * y) ** 2
  if (second && slopes.length >= 4) {
    const [[e, f], [g, h]] = second.jacobian
    variance += (e * slopes[2] + g * slopes[3]) ** 2 + (f * slopes[2] + h * slopes[3]) ** 2
  }
  return error * Math.sqrt(variance)
}
