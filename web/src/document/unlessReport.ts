import type { Reported } from '@apokinema/core/investigation'

/** Returns a function that gives the last document again as long as only the report differs. */
export function unlessReport<D extends Reported>(): (now: D) => D {
  let last: D | null = null
  return (now) => {
    const before = last
    const isSame =
      before !== null &&
      (Object.keys(now) as (keyof D)[]).every((part) => part === 'report' || before[part] === now[part])
    if (isSame) return before
    last = now
    return now
  }
}
