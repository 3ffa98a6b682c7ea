import { cutText, type Report } from '@apokinema/core/investigation'
import { digestOf } from './digest.ts'
import { type Shown, type ShownBlock, shownText } from './shown.ts'

/** Longest text of a block that is kept beside a printed one. */
const MOST_TEXT = 4000

const cut = (text: string) => (text.length > MOST_TEXT ? `${cutText(text, MOST_TEXT - 1)}…` : text)

/** Digests of what was shown: a picture in it is long, and most blocks show the same after an edit. */
const digests = new WeakMap<Shown, string>()

function shownDigest(shown: Shown): string {
  const known = digests.get(shown) ?? digestOf(shown)
  digests.set(shown, known)
  return known
}

/** Returns what blocks show now, to be compared with when the report is looked at again. */
export function printedBlocks(blocks: readonly ShownBlock[]): NonNullable<Report['printed']>['blocks'] {
  return Object.fromEntries(
    blocks.map(({ id, shown }) => [id, { text: cut(shownText(shown)), digest: shownDigest(shown) }]),
  )
}

/** Kinds of blocks as the list of changes counts them. */
const COUNTED: [string, (kind: Shown['kind']) => boolean][] = [
  ['figure', (kind) => kind === 'figure'],
  ['table', (kind) => kind === 'table'],
  ['result', (kind) => kind === 'result'],
  ['text', (kind) => kind !== 'figure' && kind !== 'table' && kind !== 'result'],
]

/** Returns how many blocks of which kinds have changed, such as "3 figures and 1 table". */
export function changesSummary(changes: readonly ChangedBlock[]): string {
  const parts = COUNTED.flatMap(([name, isOf]) => {
    const count = changes.filter(({ kind }) => isOf(kind)).length
    return count === 0 ? [] : [`${count} ${name}${count === 1 ? '' : 's'}`]
  })
  return [parts.slice(0, -1).join(', '), ...parts.slice(-1)].filter((part) => part !== '').join(' and ')
}

/** A block that shows something else than when the report was printed. */
export interface ChangedBlock {
  id: string
  kind: Shown['kind']
  /** What it showed, and what it shows, in words; null: it was not there. */
  before: string | null
  now: string
}

/**
 * Returns the blocks that show something else than when the report was printed; none if it never was.
 *
 * @param blocks what the report shows now
 */
export function changedSincePrinted(
  { printed }: Pick<Report, 'printed'>,
  blocks: Iterable<ShownBlock>,
): ChangedBlock[] {
  if (!printed) return []
  return [...blocks].flatMap(({ id, shown }): ChangedBlock[] => {
    const before = printed.blocks[id]
    if (before?.digest === shownDigest(shown)) return []
    return [{ id, kind: shown.kind, before: before?.text ?? null, now: cut(shownText(shown)) }]
  })
}
