import type { Point } from './points.ts'

/**
 * A 2 × 2 matrix [[a, b], [c, d]], as the derivative of a map of the plane: how far its result moves,
 * (a dx + b dy, c dx + d dy), where its argument moves by (dx, dy).
 */
export type Matrix2 = [[number, number], [number, number]]

/** One map of the plane between picture and scene; their composition is the scene transform. */
export interface Step {
  forward(point: Point): Point
  backward(point: Point): Point
  /** Derivative of `forward` at a point. */
  jacobian(point: Point): Matrix2
}

/** Returns the composition of steps, first to last; the identity for none. */
export function inTurn(steps: Step[]): Step {
  return {
    forward: (point) => steps.reduce((at, step) => step.forward(at), point),
    backward: (point) => steps.reduceRight((at, step) => step.backward(at), point),
    jacobian(point) {
      let at = point
      let whole: Matrix2 = [
        [1, 0],
        [0, 1],
      ]
      for (const step of steps) {
        whole = product(step.jacobian(at), whole)
        at = step.forward(at)
      }
      return whole
    },
  }
}

/** Returns the matrix product ab. */
export function product(a: Matrix2, b: Matrix2): Matrix2 {
  return [
    [a[0][0] * b[0][0] + a[0][1] * b[1][0], a[0][0] * b[0][1] + a[0][1] * b[1][1]],
    [a[1][0] * b[0][0] + a[1][1] * b[1][0], a[1][0] * b[0][1] + a[1][1] * b[1][1]],
  ]
}

/** Returns the inverse of a matrix; NaN if it is singular. */
export function inverse([[a, b], [c, d]]: Matrix2): Matrix2 {
  const det = a * d - b * c
  return [
    [d / det, -b / det],
    [-c / det, a / det],
  ]
}

/** Returns the local scale factor of a map with this jacobian: √|det|. */
export function enlargement([[a, b], [c, d]]: Matrix2): number {
  return Math.sqrt(Math.abs(a * d - b * c))
}

/** Returns a matrix times a vector. */
export function applied([[a, b], [c, d]]: Matrix2, { x, y }: Point): Point {
  return { x: a * x + b * y, y: c * x + d * y }
}
