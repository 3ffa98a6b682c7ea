import { isKeepable, keepable } from './text.ts'

/** Values within one another, and steps of a path, at most: a document has half as many. */
export const MOST_DEPTH = 16

/** Returns true if every object has something of this name from its birth, or it leads to what it has: no document uses one. */
export const isInherited = (name: string) => name in Object.prototype || name === 'prototype'

/**
 * Checks that a value from outside is one that a document can hold: finite, without holes, not too deep, of texts and
 * names that can be kept.
 *
 * @param where what it is the value of, for the sentence
 * @throws RangeError that says what is wrong
 */
export function checkValue(value: unknown, where: string): void {
  for (const _ of checking(value, where));
}

/** Number of values that are checked between two yields, some milliseconds of work. */
const STEP = 5000

/**
 * Like checkValue, but awaits `pause` after every STEP values, so that a large value does not block the event loop.
 */
export async function checkValueInSteps(
  value: unknown,
  where: string,
  pause: () => Promise<void>,
): Promise<void> {
  for (const _ of checking(value, where)) await pause()
}

/** Checks a value iteratively; yields after every STEP nested values. */
function* checking(value: unknown, where: string): Generator<void> {
  /** Stack of the containers around the next value, with the index of their next entry. */
  const within: { container: Record<string, unknown>; names: string[] | null; length: number; at: number }[] =
    []
  const enter = (one: unknown) => {
    if (typeof one === 'string') {
      if (!isKeepable(one)) throw new RangeError(`${where} holds text that can’t be kept`)
    } else if (typeof one === 'number') {
      if (!Number.isFinite(one)) throw new RangeError(`${where} holds a number that is not finite`)
    } else if (typeof one === 'object' && one !== null) {
      if (within.length >= MOST_DEPTH) throw new RangeError(`${where} is nested too deep`)
      // Lists by index: a hole is looked at, too.
      const names = Array.isArray(one) ? null : Object.keys(one)
      if (names?.some((name) => isInherited(name) || !isKeepable(name)))
        throw new RangeError(`${where} holds a name that nothing here has`)
      const length = names ? names.length : (one as unknown[]).length
      within.push({ container: one as Record<string, unknown>, names, length, at: 0 })
    } else if (typeof one !== 'boolean' && one !== null)
      throw new RangeError(`${where} holds something that is no value`)
  }
  enter(value)
  for (let looked = 1; within.length > 0; ) {
    const inner = within[within.length - 1]
    if (inner.at === inner.length) {
      within.pop()
      continue
    }
    const name = inner.names ? inner.names[inner.at] : inner.at
    inner.at++
    enter(inner.container[name])
    if (++looked % STEP === 0) yield
  }
}

/** Returns a value whose texts can be kept: itself where they can, otherwise a copy with replacement characters. */
export function keepableValue<T>(value: T): T {
  if (typeof value === 'string') return keepable(value) as T
  if (typeof value !== 'object' || value === null) return value
  if (Array.isArray(value)) {
    const kept = value.map(keepableValue)
    return kept.some((one, i) => one !== value[i]) ? (kept as T) : value
  }
  const entries = Object.entries(value)
  const kept = entries.map(([name, one]) => [name, keepableValue(one)] as const)
  return kept.some(([, one], i) => one !== entries[i][1]) ? (Object.fromEntries(kept) as T) : value
}
