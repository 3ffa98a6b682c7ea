import type { Evaluate } from './nonlinearProblem.ts'
import { sumOfSquares } from './vectorMath.ts'

/**
 * Returns the indices of parameters in which a model is jointly linear: the derivatives by each do not change when any of
 * them changes.
 *
 * @param at parameters at which it is tested
 * @param n number of points
 */
export function linearParameters(evaluate: Evaluate, at: ArrayLike<number>, n: number): number[] {
  const p = at.length
  const jacobianAt = (parameters: Float64Array) => {
    const jacobian = Array.from({ length: p }, () => new Float64Array(n))
    evaluate(parameters, new Float64Array(n), jacobian)
    return jacobian
  }
  const before = jacobianAt(Float64Array.from(at))
  const after = Array.from({ length: p }, (_, k) => {
    const changed = Float64Array.from(at)
    changed[k] = 1.37 * changed[k] + 0.61
    return jacobianAt(changed)
  })
  const isSame = (a: Float64Array, b: Float64Array) => {
    const size = Math.sqrt(sumOfSquares(a))
    return a.every((value, i) => Math.abs(value - b[i]) <= 1e-12 * size)
  }
  const found: number[] = []
  for (let k = 0; k < p; k++)
    if ([...found, k].every((j) => isSame(before[k], after[j][k]) && isSame(before[j], after[k][j])))
      found.push(k)
  return found
}
