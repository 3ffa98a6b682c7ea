import type { LinearMap } from '../regression/index.ts'

/**
 * Velocity as the slope, at the middle point, of the parabola through three neighbouring points. Row
 * r belongs to point r + 1: the two end points have none. Exact for uniform acceleration on any
 * times; otherwise the error is h₁h₂ x‴/6 (Burden and Faires, Numerical Analysis, three-point
 * midpoint formula, here for unequal steps h₁, h₂).
 */
export function threePointSlope(times: ArrayLike<number>): LinearMap {
  const map: LinearMap = { start: [], coefficients: [] }
  for (let i = 1; i + 1 < times.length; i++) {
    const before = times[i] - times[i - 1]
    const after = times[i + 1] - times[i]
    const both = before + after
    map.start.push(i - 1)
    map.coefficients.push([
      -after / (before * both),
      (after - before) / (before * after),
      before / (after * both),
    ])
  }
  return map
}
