import type { Mark } from '../investigation/index.ts'

/** Largest reduced χ² of marks that lie on a parabola. */
export const MISFIT = 3

/** A mark with its time (s) and position (px). */
export interface TimedMark {
  t: number
  x: number
  y: number
  mark: Mark
}

/** A parabola of position against time in both directions; `variance` is that of its value for marks of error 1. */
export interface Parabola {
  at(t: number): { x: number; y: number; variance: number }
}

/** Returns the least-squares parabola through marks; null for fewer than three distinct times. */
export function parabola(points: readonly TimedMark[]): Parabola | null {
  const n = points.length
  const middle = points.reduce((sum, { t }) => sum + t, 0) / n
  const reach = points.reduce((most, { t }) => Math.max(most, Math.abs(t - middle)), 0) || 1
  const u = points.map(({ t }) => (t - middle) / reach)
  const [s0, s1, s2, s3, s4] = [0, 1, 2, 3, 4].map((power) => u.reduce((sum, v) => sum + v ** power, 0))
  // Inverse of the symmetric normal matrix by its cofactors.
  const c00 = s2 * s4 - s3 * s3
  const c01 = s2 * s3 - s1 * s4
  const c02 = s1 * s3 - s2 * s2
  const determinant = s0 * c00 + s1 * c01 + s2 * c02
  if (!(Math.abs(determinant) > 1e-9)) return null
  const c11 = s0 * s4 - s2 * s2
  const c12 = s1 * s2 - s0 * s3
  const c22 = s0 * s2 - s1 * s1
  const inverse = [
    [c00, c01, c02],
    [c01, c11, c12],
    [c02, c12, c22],
  ].map((row) => row.map((value) => value / determinant))
  const solve = (axis: 'x' | 'y') => {
    const right = [0, 1, 2].map((power) =>
      points.reduce((sum, point, i) => sum + u[i] ** power * point[axis], 0),
    )
    return inverse.map((row) => row[0] * right[0] + row[1] * right[1] + row[2] * right[2])
  }
  const [x, y] = [solve('x'), solve('y')]
  return {
    at: (t) => {
      const v = (t - middle) / reach
      const basis = [1, v, v * v]
      const value = (c: number[]) => c[0] + c[1] * v + c[2] * v * v
      const variance = basis.reduce(
        (sum, left, i) => sum + left * basis.reduce((inner, right, k) => inner + inverse[i][k] * right, 0),
        0,
      )
      return { x: value(x), y: value(y), variance }
    },
  }
}

/** Returns Σ (distance of a mark from a parabola)²/error². */
export function chiSquareOf(parabola: Parabola, points: readonly TimedMark[], error: number): number {
  return points.reduce((sum, { t, x, y }) => {
    const expected = parabola.at(t)
    return sum + ((x - expected.x) ** 2 + (y - expected.y) ** 2) / error ** 2
  }, 0)
}
