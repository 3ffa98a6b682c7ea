import { freeze } from 'immer'

/**
 * Chunked processing of large JSON values: parsing and serialising run a chunk at a time and yield to the event loop in
 * between, so other requests are answered meanwhile.
 */

/** Maximum number of JSON values in a chunk, some milliseconds of work. */
const CHUNK = 4000

/** JSON text of an object or array with some of the entries of the container at `path`. */
export interface Chunk {
  path: (string | number)[]
  text: string
  /** Whether later chunks add to the container in its only entry. */
  isOpen: boolean
}

/** Yields to the event loop. */
export const pause = () => new Promise<void>((resolve) => setImmediate(resolve))

const isContainer = (value: unknown): value is object => typeof value === 'object' && value !== null

/** Number of JSON values in `value`, itself included. Stops counting above CHUNK. */
function weightOf(value: unknown): number {
  if (!isContainer(value)) return 1
  let weight = 1
  for (const one of Object.values(value)) {
    weight += weightOf(one)
    if (weight > CHUNK) break
  }
  return weight
}

/** Groups consecutive entries of a container up to CHUNK values. An entry that exceeds CHUNK alone is a group of its own. */
function* grouped(container: object): Generator<{ entries: [string, unknown][]; isHeavy: boolean }> {
  let entries: [string, unknown][] = []
  let sum = 0
  for (const entry of Object.entries(container)) {
    const weight = weightOf(entry[1])
    if (sum + weight > CHUNK && entries.length > 0) {
      yield { entries, isHeavy: false }
      entries = []
      sum = 0
    }
    if (weight > CHUNK) yield { entries: [entry], isHeavy: true }
    else {
      entries.push(entry)
      sum += weight
    }
  }
  if (entries.length > 0) yield { entries, isHeavy: false }
}

const holding = (container: object, entries: [string, unknown][]) =>
  Array.isArray(container) ? entries.map(([, value]) => value) : Object.fromEntries(entries)

/** Splits a value into chunks for `fromChunks`. */
export function toChunks(value: unknown, path: (string | number)[] = []): Chunk[] {
  if (!isContainer(value) || weightOf(value) <= CHUNK)
    return [{ path, text: JSON.stringify(value), isOpen: false }]
  const pieces: Chunk[] = [{ path, text: Array.isArray(value) ? '[]' : '{}', isOpen: true }]
  let place = 0
  for (const { entries, isHeavy } of grouped(value)) {
    if (isHeavy) {
      const [[key, child]] = entries
      const [first, ...rest] = toChunks(child, [...path, Array.isArray(value) ? place : key])
      const shell = JSON.stringify(holding(value, [[key, JSON.parse(first.text)]]))
      pieces.push({ path, text: shell, isOpen: true }, ...rest)
    } else pieces.push({ path, text: JSON.stringify(holding(value, entries)), isOpen: false })
    place += entries.length
  }
  return pieces
}

/** Rebuilds a value from its chunks, yielding in between. Freezes everything except containers larger than a chunk. */
export async function fromChunks(pieces: Chunk[]): Promise<unknown> {
  const whole = JSON.parse(pieces[0].text)
  for (const { path, text, isOpen } of pieces.slice(1)) {
    await pause()
    const container = path.reduce((at, step) => at[step], whole)
    const part = JSON.parse(text)
    if (!isOpen) freeze(part, true)
    if (Array.isArray(container)) container.push(...part)
    // Assigning would treat __proto__ specially.
    else for (const [name, one] of Object.entries(part)) Object.defineProperty(container, name, own(one))
  }
  return whole
}

const own = (value: unknown) => ({ value, enumerable: true, writable: true, configurable: true })

/** JSON.stringify, yielding to the event loop after every chunk. */
export async function stringifyInSteps(value: unknown): Promise<string> {
  const parts: string[] = []
  await write(value, parts)
  return parts.join('')
}

async function write(value: unknown, parts: string[]): Promise<void> {
  if (!isContainer(value) || weightOf(value) <= CHUNK) {
    parts.push(JSON.stringify(value))
    return
  }
  const isList = Array.isArray(value)
  parts.push(isList ? '[' : '{')
  let isFirst = true
  for (const { entries, isHeavy } of grouped(value)) {
    await pause()
    const written: string[] = []
    if (isHeavy) {
      const [[key, child]] = entries
      if (!isList) written.push(`${JSON.stringify(key)}:`)
      await write(child, written)
    } else written.push(JSON.stringify(holding(value, entries)).slice(1, -1))
    // Undefined fields are omitted, as by JSON.stringify.
    if (written[0] === '') continue
    parts.push(isFirst ? '' : ',', ...written)
    isFirst = false
  }
  parts.push(isList ? ']' : '}')
}
