import { isKeepable, keepable } from './text.ts'

/** Values within one another, and steps of a path, at most: a document has half as many. */
export const MOST_DEPTH = 16

/** Whether every object has something of this name from its birth, or it leads to what it has: no document uses one. */
export const isInherited = (name: string) => name in Object.prototype || name === 'prototype'

/**
 * Checks that a value from outside is one that a document can hold: finite, without holes, not too deep, of texts and
 * names that can be kept.
 *
 * @param where what it is the value of, for the sentence
 * @throws RangeError that says what is wrong
 */
export function checkValue(value: unknown, where: string, depth = 0): void {
  if (typeof value === 'string') {
    if (!isKeepable(value)) throw new RangeError(`${where} holds text that can’t be kept`)
  } else if (typeof value === 'number') {
    if (!Number.isFinite(value)) throw new RangeError(`${where} holds a number that is not finite`)
  } else if (Array.isArray(value)) {
    checkDepth(where, depth)
    // By index: a hole is looked at, too.
    for (let i = 0; i < value.length; i++) checkValue(value[i], where, depth + 1)
  } else if (typeof value === 'object' && value !== null) {
    checkDepth(where, depth)
    for (const name of Object.keys(value)) {
      if (isInherited(name) || !isKeepable(name))
        throw new RangeError(`${where} holds a name that nothing here has`)
      checkValue((value as Record<string, unknown>)[name], where, depth + 1)
    }
  } else if (typeof value !== 'boolean' && value !== null)
    throw new RangeError(`${where} holds something that is no value`)
}

function checkDepth(where: string, depth: number): void {
  if (depth >= MOST_DEPTH) throw new RangeError(`${where} is nested too deep`)
}

/** A value whose texts can be kept: itself where they can, otherwise a copy with replacement characters. */
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
