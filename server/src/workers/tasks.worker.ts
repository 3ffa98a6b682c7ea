import type { Investigation } from '@apokinema/core/investigation'
import { move, transferableSymbol, valueSymbol } from 'piscina'
import { type Chunk, toChunks } from './chunks.ts'

/** Tasks of the worker threads, one per exported function; see workerPool.ts. */

/** Maximum nesting depth of a request. Documents are less deep, and are nested one or two levels in requests. */
const MOST_DEPTH = 40

/** Parses JSON text and returns it as chunks, from which the main thread rebuilds the value. Throws a SyntaxError. */
export function parse(text: string): Chunk[] {
  const value: unknown = JSON.parse(text)
  if (!isWithin(value, MOST_DEPTH)) throw new SyntaxError('nested too deep')
  return toChunks(value)
}

function isWithin(value: unknown, depth: number): boolean {
  if (typeof value !== 'object' || value === null) return true
  return depth > 0 && Object.values(value).every((one) => isWithin(one, depth - 1))
}

/** Text entries of a packed investigation, UTF-8. */
export interface PackedBytes {
  entries: { name: string; bytes: Uint8Array }[]
  /** Entry name of the footage; null if there is none. */
  footage: string | null
}

/** Computes the tables and the readme of an investigation (JSON text). */
export async function pack({
  document,
  hasFootage,
}: {
  document: string
  hasFootage: boolean
}): Promise<PackedBytes> {
  // Imported here: it takes more than a second, for which a thread that only parses need not wait.
  const { packedTexts } = await import('@apokinema/core/formats')
  const { packedReadme } = await import('@apokinema/words/facts')
  const investigation = JSON.parse(document) as Investigation
  const { entries, footage } = packedTexts(investigation, hasFootage, (names) =>
    packedReadme(investigation, names),
  )
  const encoder = new TextEncoder()
  const packed = {
    entries: entries.map(({ name, text }) => ({ name, bytes: encoder.encode(text) })),
    footage,
  }
  // Transferred instead of copied; the pool resolves with the value.
  return move({
    [transferableSymbol]: packed.entries.map(({ bytes }) => bytes.buffer),
    [valueSymbol]: packed,
  }) as unknown as PackedBytes
}
