import type { Mark } from '../investigation/index.ts'
import type { Spot } from './localCourse.ts'

/** A number that was worked out for a mark from a row of marks around it, in which it has a place, and their error. */
export interface Known {
  around: readonly Mark[]
  place: number
  error: number
  value: number
}

/**
 * What was worked out for each mark, by the clock: an edit changes what is said of a few marks, and there can be tens of
 * thousands. Marks never change, so that they tell whether it still holds.
 */
export interface CourseMemory {
  sizes: WeakMap<Mark, Known>
  gains: WeakMap<Mark, Known>
  jumps: WeakMap<Mark, Known>
}
const memories = new WeakMap<object, CourseMemory>()

/** Returns what is remembered of marks by a clock. */
export function memoryOf(seconds: ArrayLike<number>): CourseMemory {
  const known = memories.get(seconds)
  if (known) return known
  const made = { sizes: new WeakMap(), gains: new WeakMap(), jumps: new WeakMap() }
  memories.set(seconds, made)
  return made
}

/** A value for the mark at a place of a row from `from` to before `to`; worked out unless it is known. */
export function remembered(
  known: WeakMap<Mark, Known>,
  spots: readonly Spot[],
  [from, place, to]: [number, number, number],
  error: number,
  make: () => number,
): number {
  const { mark } = spots[place]
  const kept = known.get(mark)
  let isSame = kept?.error === error && kept.place === place - from && kept.around.length === to - from
  for (let i = from; isSame && i < to; i++) isSame = kept!.around[i - from] === spots[i].mark
  if (isSame) return kept!.value
  const around: Mark[] = []
  for (let i = from; i < to; i++) around.push(spots[i].mark)
  const value = make()
  known.set(mark, { around, place: place - from, error, value })
  return value
}
