import type { Mark } from '../investigation/index.ts'

/** Marks that lie farther from their parabola than this, in mean squared errors, have another course. */
export const MISFIT = 3

/** A mark with its time in seconds, in pixels. */
export interface Spot {
  t: number
  x: number
  y: number
  mark: Mark
}

/** A parabola against time, in both directions, with what its prediction at a time varies by for marks of error 1. */
export interface Parabola {
  at(t: number): { x: number; y: number; variance: number }
}

/** Least-squares parabola through marks; null where their times are too few. */
export function parabola(spots: readonly Spot[]): Parabola | null {
  const n = spots.length
  const middle = spots.reduce((sum, { t }) => sum + t, 0) / n
  const reach = spots.reduce((most, { t }) => Math.max(most, Math.abs(t - middle)), 0) || 1
  const u = spots.map(({ t }) => (t - middle) / reach)
  const [s0, s1, s2, s3, s4] = [0, 1, 2, 3, 4].map((power) => u.reduce((sum, v) => sum + v ** power, 0))
  // Inverse of the symmetric matrix of the moments, by its cofactors.
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
      spots.reduce((sum, spot, i) => sum + u[i] ** power * spot[axis], 0),
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

/** Sum of squared distances of marks from a parabola, in squared errors. */
export function misfitOf(course: Parabola, spots: readonly Spot[], error: number): number {
  return spots.reduce((sum, { t, x, y }) => {
    const told = course.at(t)
    return sum + ((x - told.x) ** 2 + (y - told.y) ** 2) / error ** 2
  }, 0)
}
