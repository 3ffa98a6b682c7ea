import type { Mark } from '../investigation/index.ts'
import type { TimedMark } from './localParabola.ts'

/** A number computed for a mark from the marks around it. */
export interface CachedValue {
  around: readonly Mark[]
  place: number
  error: number
  value: number
}

/**
 * Values cached for each mark, by clock: an edit changes only a few of tens of thousands. Marks are immutable, so that a cached
 * value is valid as long as the marks around are the same objects.
 */
export interface DiagnosisCache {
  sizes: WeakMap<Mark, CachedValue>
  gains: WeakMap<Mark, CachedValue>
  jumps: WeakMap<Mark, CachedValue>
}
const memories = new WeakMap<object, DiagnosisCache>()

/** Returns the cache for a clock. */
export function cacheOf(seconds: ArrayLike<number>): DiagnosisCache {
  const known = memories.get(seconds)
  if (known) return known
  const made = { sizes: new WeakMap(), gains: new WeakMap(), jumps: new WeakMap() }
  memories.set(seconds, made)
  return made
}

/**
 * Returns the value for the mark at `place`, computed from the marks from `from` to before `to` unless it is cached.
 *
 * @param error that the value was computed with
 */
export function cached(
  known: WeakMap<Mark, CachedValue>,
  points: readonly TimedMark[],
  [from, place, to]: [number, number, number],
  error: number,
  make: () => number,
): number {
  const { mark } = points[place]
  const kept = known.get(mark)
  let isSame = kept?.error === error && kept.place === place - from && kept.around.length === to - from
  for (let i = from; isSame && i < to; i++) isSame = kept!.around[i - from] === points[i].mark
  if (isSame) return kept!.value
  const around: Mark[] = []
  for (let i = from; i < to; i++) around.push(points[i].mark)
  const value = make()
  known.set(mark, { around, place: place - from, error, value })
  return value
}
