import type { Point } from './points.ts'
import type { Matrix2, Step } from './step.ts'

/** Entries of a projective map, row by row; the last is 1. */
export type Homography = [number, number, number, number, number, number, number, number, number]

/** Returns a projective map as a step. */
export function homographyStep(map: Homography): Step {
  const back = adjugate(map)
  return {
    forward: (point) => project(map, point),
    backward: (point) => project(back, point),
    jacobian: (point) => derivative(map, point),
  }
}

/** Returns the inverse of a projective map as a step. */
export function inverseHomographyStep(map: Homography): Step {
  const back = adjugate(map)
  return {
    forward: (point) => project(back, point),
    backward: (point) => project(map, point),
    jacobian: (point) => derivative(back, point),
  }
}

/** Returns the adjugate of a 3 × 3 matrix: its inverse but for a factor, which a projective map does not feel. */
function adjugate([a, b, c, d, e, f, g, h, i]: Homography): Homography {
  return [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ]
}

function project([a, b, c, d, e, f, g, h, i]: Homography, { x, y }: Point): Point {
  const w = g * x + h * y + i
  return { x: (a * x + b * y + c) / w, y: (d * x + e * y + f) / w }
}

function derivative(map: Homography, point: Point): Matrix2 {
  const [a, b, , d, e, , g, h, i] = map
  const w = g * point.x + h * point.y + i
  const { x, y } = project(map, point)
  return [
    [(a - x * g) / w, (b - x * h) / w],
    [(d - y * g) / w, (e - y * h) / w],
  ]
}
