import { type Evaluate, FitError, linearParameters } from '../regression/index.ts'
import type { Law } from './models/index.ts'

/**
 * Returns a law whose parameters are the shown ones of another law, without those that are fixed.
 *
 * @param fixed values of the fixed parameters by their index among the shown ones
 * @param start initial values of all shown parameters
 * @throws FitError if all parameters are fixed
 */
export function withFixedParameters(
  law: Law,
  fixed: ReadonlyMap<number, number>,
  start: readonly number[],
): Law {
  const free = start.map((_, k) => k).filter((k) => !fixed.has(k))
  if (free.length === 0) throw new FitError({ code: 'all-parameters-fixed' })
  const whole = (given: ArrayLike<number>) => {
    const all = start.map((_, k) => fixed.get(k) ?? 0)
    free.forEach((k, i) => {
      all[k] = given[i]
    })
    return all
  }
  const on = (places: ArrayLike<number>): Evaluate => {
    const evaluate = law.on(places)
    return (given, values, jacobian) => {
      const shown = whole(given)
      const own = Float64Array.from(law.fromShown(shown, 0))
      const inner = jacobian ? Array.from(own, () => new Float64Array(values.length)) : null
      evaluate(own, values, inner)
      if (!inner || !jacobian) return
      free.forEach((k, i) => {
        const column = jacobian[i].fill(0)
        const by = ownByShown(law, shown, k)
        inner.forEach((slope, j) => {
          if (by[j] !== 0) for (let at = 0; at < column.length; at++) column[at] += by[j] * slope[at]
        })
      })
    }
  }
  const first = free.map((k) => start[k])
  return {
    ...law,
    on,
    zero: 0,
    linear: linearParameters(on([0, 0.37, 1.1, 2.3, 3.1]), first, 5),
    begin: () => ({ starts: [first] }),
    toShown: (own) => whole(own),
    fromShown: (shown) => free.map((k) => shown[k]),
    check: (own, places) => law.check?.(Float64Array.from(law.fromShown(whole(own), 0)), places),
  }
}

/** Returns the derivatives of a law's own parameters with respect to shown parameter `k`, by a central difference. */
function ownByShown(law: Law, shown: readonly number[], k: number): number[] {
  const step = 1e-5 * (Math.abs(shown[k]) || 1)
  const beside = (by: number) =>
    law.fromShown(
      shown.map((one, i) => (i === k ? one + by : one)),
      0,
    )
  const [up, down] = [beside(step), beside(-step)]
  return up.map((one, i) => (one - down[i]) / (2 * step))
}
