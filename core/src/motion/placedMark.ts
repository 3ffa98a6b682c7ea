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
export function errorOf(mark: PlacedMark, slopes: readonly number[]): number {
  let variance = 0
  for (let which = 0; which < slopes.length; which++) variance += swayBy(mark, slopes, which) ** 2
  return Math.sqrt(variance)
}
