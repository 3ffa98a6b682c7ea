import type { Point } from './points.ts'

/** A straight line through points. */
export interface FittedLine {
  middle: Point
  /** In radians from the picture's right towards up. */
  direction: number
  /** Places of the points along it from the middle, in the direction of its angle; distances from it, towards down. */
  along: Float64Array
  across: Float64Array
}

/** Returns the line with the least sum of squared distances from points: their principal axis. */
export function fitLine(points: readonly Point[]): FittedLine {
  const mean = (key: 'x' | 'y') => points.reduce((sum, point) => sum + point[key], 0) / points.length
  const middle = { x: mean('x'), y: mean('y') }
  const sum = (of: (x: number, y: number) => number) =>
    points.reduce((total, { x, y }) => total + of(x - middle.x, y - middle.y), 0)
  const [xx, xy, yy] = [sum((x) => x * x), sum((x, y) => x * y), sum((_, y) => y * y)]
  const turn = Math.atan2(2 * xy, xx - yy) / 2
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
  return {
    middle,
    direction: -turn,
    along: Float64Array.from(points, ({ x, y }) => cos * (x - middle.x) + sin * (y - middle.y)),
    across: Float64Array.from(points, ({ x, y }) => cos * (y - middle.y) - sin * (x - middle.x)),
  }
}
