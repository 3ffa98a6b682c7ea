import { distance, type Point } from './points.ts'

/** A circle through points. */
export interface FittedCircle {
  centre: Point
  radius: number
  /** Standard error of the centre along each direction (root mean square over directions), and of the radius, for points with a standard error of 1. */
  centreFactor: number
  radiusFactor: number
  /** Root mean square distance of the points from the circle. */
  rms: number
}

/** Most Gauss-Newton steps; on arcs of some degrees they end after three or four. */
const MOST_STEPS = 50
/** A step is the last one if it is shorter than this share of the radius. */
const CONVERGED = 1e-10

/**
 * Returns the circle with the least sum of squared distances from points, by Gauss-Newton steps from Kåsa's algebraic fit (Chernov,
 * Circular and Linear Regression, CRC Press 2010, chapters 4 and 5); null for fewer than 4 points or points on a line.
 */
export function fitCircle(points: readonly Point[]): FittedCircle | null {
  const n = points.length
  if (n < 4) return null
  const start = algebraicCircle(points)
  if (!start) return null
  let { centre, radius } = start
  for (let step = 0; step < MOST_STEPS; step++) {
    const { inverse, gradient } = normalEquations(points, centre, radius)
    if (!inverse) return null
    const [dx, dy, dr] = inverse.map((row) => row.reduce((sum, value, k) => sum + value * gradient[k], 0))
    centre = { x: centre.x + dx, y: centre.y + dy }
    radius += dr
    if (!Number.isFinite(radius) || radius <= 0) return null
    if (Math.hypot(dx, dy, dr) < CONVERGED * radius) break
  }
  const { inverse } = normalEquations(points, centre, radius)
  if (!inverse) return null
  const square = points.reduce((sum, point) => sum + (distance(point, centre) - radius) ** 2, 0)
  return {
    centre,
    radius,
    centreFactor: Math.sqrt((inverse[0][0] + inverse[1][1]) / 2),
    radiusFactor: Math.sqrt(inverse[2][2]),
    rms: Math.sqrt(square / n),
  }
}

/** Returns the circle with the least sum of squared x² + y² + ax + by + c. */
function algebraicCircle(points: readonly Point[]): { centre: Point; radius: number } | null {
  const n = points.length
  const mean = (of: (point: Point) => number) => points.reduce((sum, point) => sum + of(point), 0) / n
  const middle = { x: mean(({ x }) => x), y: mean(({ y }) => y) }
  const moment = (of: (u: number, v: number) => number) => mean(({ x, y }) => of(x - middle.x, y - middle.y))
  const [uu, uv, vv] = [moment((u) => u * u), moment((u, v) => u * v), moment((_, v) => v * v)]
  const u = moment((u, v) => u * (u * u + v * v)) / 2
  const v = moment((u, v) => v * (u * u + v * v)) / 2
  const determinant = uu * vv - uv * uv
  if (determinant <= 1e-12 * (uu + vv) ** 2) return null
  const [a, b] = [(u * vv - v * uv) / determinant, (v * uu - u * uv) / determinant]
  return { centre: { x: middle.x + a, y: middle.y + b }, radius: Math.sqrt(a * a + b * b + uu + vv) }
}

/** Returns the inverse of JᵀJ and Jᵀr, for the parameters x, y of the centre and the radius, with r the distances inside the circle. */
function normalEquations(points: readonly Point[], centre: Point, radius: number) {
  const m = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ]
  const gradient = [0, 0, 0]
  for (const point of points) {
    const apart = distance(point, centre)
    // How the point's distance from the circle, outwards, changes with the parameters, times −1.
    const row = [(point.x - centre.x) / apart, (point.y - centre.y) / apart, 1]
    for (let i = 0; i < 3; i++) {
      gradient[i] += row[i] * (apart - radius)
      for (let k = 0; k < 3; k++) m[i][k] += row[i] * row[k]
    }
  }
  return { inverse: inverse3(m), gradient }
}

/** Returns the inverse of a symmetric 3×3 matrix by its cofactors; null if it is singular. */
function inverse3(m: readonly number[][]): number[][] | null {
  const cofactor = (i: number, k: number) => {
    const [a, b] = [(i + 1) % 3, (i + 2) % 3]
    const [c, d] = [(k + 1) % 3, (k + 2) % 3]
    return m[a][c] * m[b][d] - m[a][d] * m[b][c]
  }
  const determinant = m[0][0] * cofactor(0, 0) + m[0][1] * cofactor(0, 1) + m[0][2] * cofactor(0, 2)
  const size = Math.max(m[0][0], m[1][1], m[2][2])
  if (!(Math.abs(determinant) > 1e-14 * size ** 3)) return null
  return [0, 1, 2].map((i) => [0, 1, 2].map((k) => cofactor(k, i) / determinant))
}
