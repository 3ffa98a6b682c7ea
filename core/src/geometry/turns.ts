import type { Point } from './points.ts'

/** A quarter turn of a picture clockwise or anticlockwise, or the picture mirrored left to right. */
export type Turn = 'right' | 'left' | 'mirror'

/** Returns where a point of a picture lies once the picture is turned; `size` is the picture's before. */
export function turnedPoint(turn: Turn, { x, y }: Point, size: { width: number; height: number }): Point {
  if (turn === 'mirror') return { x: size.width - x, y }
  return turn === 'right' ? { x: size.height - y, y: x } : { x: y, y: size.width - x }
}

/**
 * Returns the radii of an outline in a picture that is turned.
 *
 * @param radii in evenly spread directions, from the picture's right towards down; their number is a multiple of 4
 */
export function turnedRadii(turn: Turn, radii: readonly number[]): number[] {
  const count = radii.length
  const quarter = count / 4
  const from = (i: number) =>
    turn === 'mirror' ? count / 2 - i : turn === 'right' ? i - quarter : i + quarter
  return radii.map((_, i) => radii[(from(i) + count) % count])
}
