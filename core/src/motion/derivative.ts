import type { LinearMap } from '../regression/index.ts'

/** Points of a motion along time, as derivatives see them. */
export interface CoursePoints {
  /** Seconds at which each point begins and ends to be there: the same, but where the body rests. */
  from: ArrayLike<number>
  to: ArrayLike<number>
  /** Points before which the motion breaks: nothing is derived across. */
  breaks: ReadonlySet<number>
}

/** A derived quantity: the points that have it, and how it comes from the values of all points. */
export interface Derived {
  rows: number[]
  map: LinearMap
}

/** Coefficients of three values at times −h₁, 0 and h₂, by the order of the derivative at 0. */
const COEFFICIENTS: Record<1 | 2, (before: number, after: number) => [number, number, number]> = {
  1: (before, after) => [
    -after / (before * (before + after)),
    (after - before) / (before * after),
    before / (after * (before + after)),
  ],
  2: (before, after) => [
    2 / (before * (before + after)),
    -2 / (before * after),
    2 / (after * (before + after)),
  ],
}

/**
 * Velocity (order 1) as the slope, at the middle point, of the parabola through three neighbouring points, and
 * acceleration (order 2) as twice its quadratic coefficient. The two end points have none, nor have points beside
 * a break, and a rest has none of its own: beside it, the parabola goes through its end that is nearer. Exact for
 * uniform acceleration on any times; otherwise the slope's error is h₁h₂ x‴/6 and that of the second derivative
 * (h₂ − h₁) x‴/3 (Burden and Faires, Numerical Analysis, three-point midpoint formulas, here for unequal steps).
 */
export function threePointDerivative({ from, to, breaks }: CoursePoints, order: 1 | 2): Derived {
  const derived: Derived = { rows: [], map: { start: [], coefficients: [] } }
  for (let i = 1; i + 1 < from.length; i++) {
    if (from[i] !== to[i] || breaks.has(i) || breaks.has(i + 1)) continue
    derived.rows.push(i)
    derived.map.start.push(i - 1)
    derived.map.coefficients.push(COEFFICIENTS[order](from[i] - to[i - 1], from[i + 1] - to[i]))
  }
  return derived
}
