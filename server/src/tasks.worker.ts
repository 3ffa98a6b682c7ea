import { packedTexts } from '@apokinema/core/formats'
import type { Investigation } from '@apokinema/core/investigation'
import { move, transferableSymbol, valueSymbol } from 'piscina'
import { type Piece, piecesOf } from './pieces.ts'

/** What worker threads do; see workers.ts. Each export is a task. */

/** Values within one another in a request, at most: a document has fewer, and needs a level or two around it. */
const MOST_DEPTH = 40

/** Parses JSON text into pieces, of which the main thread makes the value. Throws a SyntaxError where it is none. */
export function parse(text: string): Piece[] {
  const value: unknown = JSON.parse(text)
  if (!isWithin(value, MOST_DEPTH)) throw new SyntaxError('nested too deep')
  return piecesOf(value)
}

function isWithin(value: unknown, depth: number): boolean {
  if (typeof value !== 'object' || value === null) return true
  return depth > 0 && Object.values(value).every((one) => isWithin(one, depth - 1))
}

/** Entries of an investigation in one file, as bytes. */
export interface PackedBytes {
  entries: { name: string; bytes: Uint8Array }[]
  /** Name of the entry with the footage; null where there is none. */
  footage: string | null
}

/** Writes the tables and the readme of an investigation that is given as JSON text. */
export function pack({ document, hasFootage }: { document: string; hasFootage: boolean }): PackedBytes {
  const { entries, footage } = packedTexts(JSON.parse(document) as Investigation, hasFootage)
  const encoder = new TextEncoder()
  const packed = {
    entries: entries.map(({ name, text }) => ({ name, bytes: encoder.encode(text) })),
    footage,
  }
  // Handed over, not copied. What the pool then gives is the value alone.
  return move({
    [transferableSymbol]: packed.entries.map(({ bytes }) => bytes.buffer),
    [valueSymbol]: packed,
  }) as unknown as PackedBytes
}
