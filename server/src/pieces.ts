import { freeze } from 'immer'

/**
 * Large values in pieces: what takes long in one go, to parse, to check or to write down, is done a piece at a time, and
 * others are answered in between.
 */

/** Values in a piece: some milliseconds' work. */
const PIECE = 4000

/** A part of a value: the JSON text of an object or a list that holds some of the entries of the one at `path`. */
export interface Piece {
  path: (string | number)[]
  text: string
  /** Whether the one entry is filled by pieces that come later. */
  isOpen: boolean
}

/** Lets others be answered. */
export const pause = () => new Promise<void>((resolve) => setImmediate(resolve))

const isContainer = (value: unknown): value is object => typeof value === 'object' && value !== null

/** How many values there are in one, itself among them; counting ends beyond PIECE. */
function weightOf(value: unknown): number {
  if (!isContainer(value)) return 1
  let weight = 1
  for (const one of Object.values(value)) {
    weight += weightOf(one)
    if (weight > PIECE) break
  }
  return weight
}

/** Groups the entries of a container: neighbours together up to a piece's weight, a heavier one by itself. */
function* grouped(container: object): Generator<{ entries: [string, unknown][]; isHeavy: boolean }> {
  let entries: [string, unknown][] = []
  let sum = 0
  for (const entry of Object.entries(container)) {
    const weight = weightOf(entry[1])
    if (sum + weight > PIECE && entries.length > 0) {
      yield { entries, isHeavy: false }
      entries = []
      sum = 0
    }
    if (weight > PIECE) yield { entries: [entry], isHeavy: true }
    else {
      entries.push(entry)
      sum += weight
    }
  }
  if (entries.length > 0) yield { entries, isHeavy: false }
}

const holding = (container: object, entries: [string, unknown][]) =>
  Array.isArray(container) ? entries.map(([, value]) => value) : Object.fromEntries(entries)

/** Cuts a value into pieces, of which `assembled` makes it again. */
export function piecesOf(value: unknown, path: (string | number)[] = []): Piece[] {
  if (!isContainer(value) || weightOf(value) <= PIECE)
    return [{ path, text: JSON.stringify(value), isOpen: false }]
  const pieces: Piece[] = [{ path, text: Array.isArray(value) ? '[]' : '{}', isOpen: true }]
  let place = 0
  for (const { entries, isHeavy } of grouped(value)) {
    if (isHeavy) {
      const [[key, child]] = entries
      const [first, ...rest] = piecesOf(child, [...path, Array.isArray(value) ? place : key])
      const shell = JSON.stringify(holding(value, [[key, JSON.parse(first.text)]]))
      pieces.push({ path, text: shell, isOpen: true }, ...rest)
    } else pieces.push({ path, text: JSON.stringify(holding(value, entries)), isOpen: false })
    place += entries.length
  }
  return pieces
}

/** Makes a value of its pieces, in steps. All in it is frozen but what was too large for a piece: that is still open. */
export async function assembled(pieces: Piece[]): Promise<unknown> {
  const whole = JSON.parse(pieces[0].text)
  for (const { path, text, isOpen } of pieces.slice(1)) {
    await pause()
    const container = path.reduce((at, step) => at[step], whole)
    const part = JSON.parse(text)
    if (!isOpen) freeze(part, true)
    if (Array.isArray(container)) container.push(...part)
    // A name such as __proto__ stays a name.
    else for (const [name, one] of Object.entries(part)) Object.defineProperty(container, name, own(one))
  }
  return whole
}

const own = (value: unknown) => ({ value, enumerable: true, writable: true, configurable: true })

/** JSON text of a value, written in steps. */
export async function jsonInSteps(value: unknown): Promise<string> {
  const parts: string[] = []
  await write(value, parts)
  return parts.join('')
}

async function write(value: unknown, parts: string[]): Promise<void> {
  if (!isContainer(value) || weightOf(value) <= PIECE) {
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
    // Fields that are undefined are left out.
    if (written[0] === '') continue
    parts.push(isFirst ? '' : ',', ...written)
    isFirst = false
  }
  parts.push(isList ? ']' : '}')
}
