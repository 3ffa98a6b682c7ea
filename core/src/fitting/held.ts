import { type Evaluate, FitError, linearParameters } from '../regression/index.ts'
import type { Law } from './models/index.ts'

/** A law that is asked for its parameters as people know them, some of which are kept at a value. */
export function heldLaw(law: Law, held: ReadonlyMap<number, number>, start: readonly number[]): Law {
  const free = start.map((_, k) => k).filter((k) => !held.has(k))
  if (free.length === 0) throw new FitError('Every parameter is held: there is nothing to be found.')
  const whole = (given: ArrayLike<number>) => {
    const all = start.map((_, k) => held.get(k) ?? 0)
    free.forEach((k, i) => {
      all[k] = given[i]
    })
    return all
  }
  const on = (places: ArrayLike<number>): Evaluate => {
    const evaluate = law.on(places)
    return (given, values, slopes) => {
      const shown = whole(given)
      const own = Float64Array.from(law.own(shown, 0))
      const inner = slopes ? Array.from(own, () => new Float64Array(values.length)) : null
      evaluate(own, values, inner)
      if (!inner || !slopes) return
      free.forEach((k, i) => {
        const column = slopes[i].fill(0)
        const by = turning(law, shown, k)
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
    shown: (own) => whole(own),
    own: (shown) => free.map((k) => shown[k]),
    check: (own, places) => law.check?.(Float64Array.from(law.own(whole(own), 0)), places),
  }
}

/** How the engine's parameters turn with one of those that are shown, by a difference. */
function turning(law: Law, shown: readonly number[], k: number): number[] {
  const step = 1e-5 * (Math.abs(shown[k]) || 1)
  const beside = (by: number) =>
    law.own(
      shown.map((one, i) => (i === k ? one + by : one)),
      0,
    )
  const [up, down] = [beside(step), beside(-step)]
  return up.map((one, i) => (one - down[i]) / (2 * step))
}
