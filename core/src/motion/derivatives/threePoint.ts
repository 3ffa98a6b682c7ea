import { type Derived, runsOf } from './derivationPoints.ts'
import type { DerivativeMethod } from './method.ts'

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
 * Velocity as the slope, at the middle point, of the parabola through three neighbouring points, and acceleration
 * as twice its quadratic coefficient. End points have none, nor have points beside a break or a gap, and a rest has
 * none of its own: beside it, the parabola goes through its end that is nearer. Exact for uniform acceleration on
 * any times; otherwise the slope's error is h₁h₂ x‴/6 and that of the second derivative (h₂ − h₁) x‴/3 (Burden and
 * Faires, Numerical Analysis, three-point midpoint formulas, here for unequal steps).
 */
export const threePoint: DerivativeMethod = {
  id: 'three-point',
  exact: 2,
  readsValues: false,
  derive(points, order) {
    const derived: Derived = { rows: [], map: { start: [], coefficients: [] } }
    for (const { first, times } of runsOf(points))
      for (let k = 1; k + 1 < times.length; k++) {
        derived.rows.push(first + k)
        derived.map.start.push(first + k - 1)
        derived.map.coefficients.push(COEFFICIENTS[order](times[k] - times[k - 1], times[k + 1] - times[k]))
      }
    return derived
  },
}
