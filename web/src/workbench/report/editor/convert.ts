import {
  type Block,
  type BlockContent,
  type ById,
  type Inline,
  inOrder,
  TEXT_MARKS,
  type TextMark,
  type TextStyle,
} from '@apokinema/core/investigation'
import type { JSONContent } from '@tiptap/core'
import isEqual from 'fast-deep-equal'

/** Converts between the blocks of a report and the document of its editor. */

const EDITOR_MARKS: Record<TextMark, string> = {
  bold: 'bold',
  italic: 'italic',
  subscript: 'subscript',
  superscript: 'superscript',
}

function inlineContent(inline: Inline): JSONContent {
  switch (inline.kind) {
    case 'text': {
      const marks: JSONContent['marks'] = inline.marks.map((mark) => ({ type: EDITOR_MARKS[mark] }))
      if (inline.link !== null) marks.push({ type: 'link', attrs: { href: inline.link } })
      return { type: 'text', text: inline.text, ...(marks.length > 0 && { marks }) }
    }
    case 'value':
      return { type: 'value', attrs: { source: inline.source, format: inline.format } }
    case 'equation':
      return { type: 'inlineEquation', attrs: { tex: inline.tex } }
    case 'reference':
      return { type: 'reference', attrs: { block: inline.block } }
    case 'line-break':
      return { type: 'hardBreak' }
  }
}

const content = (inlines: readonly Inline[]) =>
  inlines.length > 0 ? { content: inlines.map(inlineContent) } : {}

/** Returns the editor's node of a block. A pinned text can't be written in: it is a fixed block. */
function blockContent(id: string, block: Block): JSONContent {
  if (block.kind === 'text' && !block.pin)
    return {
      type: 'textBlock',
      attrs: { id, style: block.style, indent: block.indent },
      ...content(block.inlines),
    }
  if (block.kind === 'question' && !block.pin)
    return { type: 'questionBlock', attrs: { id, question: block.question }, ...content(block.answer) }
  return { type: 'fixedBlock', attrs: { id } }
}

/** Returns the editor's nodes of all blocks, in order. */
export function editorContent(blocks: ById<Block>): JSONContent[] {
  return inOrder(blocks).map(([id, block]) => blockContent(id, block))
}

function inlineOf(node: JSONContent): Inline[] {
  switch (node.type) {
    case 'text': {
      const names = new Set(node.marks?.map(({ type }) => type))
      const link = node.marks?.find(({ type }) => type === 'link')?.attrs?.href as string | undefined
      return node.text
        ? [
            {
              kind: 'text',
              text: node.text,
              marks: TEXT_MARKS.filter((mark) => names.has(mark)),
              link: link ?? null,
            },
          ]
        : []
    }
    case 'value':
      return [{ kind: 'value', source: node.attrs!.source, format: node.attrs!.format }]
    case 'inlineEquation':
      return [{ kind: 'equation', tex: node.attrs!.tex }]
    case 'reference':
      return [{ kind: 'reference', block: node.attrs!.block }]
    case 'hardBreak':
      return [{ kind: 'line-break' }]
    default:
      return []
  }
}

/**
 * Returns orders that put ids in a sequence: an order that fits into it is kept, so that as few blocks as possible change.
 *
 * @param orders of the ids that have one
 */
export function ordersFor(ids: readonly string[], orders: ReadonlyMap<string, number>): number[] {
  const kept = longestIncreasing(ids.map((id) => orders.get(id) ?? Number.NaN))
  const result = ids.map((id, i) => (kept.has(i) ? orders.get(id)! : Number.NaN))
  for (let i = 0; i < ids.length; ) {
    if (!Number.isNaN(result[i])) {
      i++
      continue
    }
    let end = i
    while (end < ids.length && Number.isNaN(result[end])) end++
    const before = i === 0 ? null : result[i - 1]
    const after = end === ids.length ? null : result[end]
    for (let k = i; k < end; k++) {
      const share = (k - i + 1) / (end - i + 1)
      result[k] =
        before === null
          ? after === null
            ? k
            : after - (end - k)
          : after === null
            ? before + (k - i + 1)
            : before + share * (after - before)
    }
    i = end
  }
  return result
}

/** Returns the indices of a longest increasing subsequence; NaN is in none. */
function longestIncreasing(values: readonly number[]): Set<number> {
  /** Index of the least last value of a subsequence of each length, and the index before each index. */
  const [lasts, before]: [number[], number[]] = [[], []]
  values.forEach((value, i) => {
    if (Number.isNaN(value)) return
    let [low, high] = [0, lasts.length]
    while (low < high) {
      const middle = (low + high) >> 1
      if (values[lasts[middle]] < value) low = middle + 1
      else high = middle
    }
    before[i] = low > 0 ? lasts[low - 1] : -1
    lasts[low] = i
  })
  const indices = new Set<number>()
  for (let i = lasts.at(-1) ?? -1; i >= 0; i = before[i]) indices.add(i)
  return indices
}

/**
 * Returns what writing has changed: each block that differs from the document's, and null for those that are gone.
 *
 * @param nodes top-level nodes of the editor, each with an id of its own
 */
export function changedBlocks(
  nodes: readonly JSONContent[],
  blocks: ById<Block>,
): Record<string, Block | null> {
  const ids = nodes.map(({ attrs }) => attrs!.id as string)
  const orders = ordersFor(ids, new Map(Object.entries(blocks).map(([id, { order }]) => [id, order])))
  const changed: Record<string, Block | null> = {}
  nodes.forEach((node, i) => {
    const before = blocks[ids[i]]
    const after = blockOf(node, orders[i], before)
    // Not as text: what comes from the server has its fields in another order.
    if (after && !isEqual(after, before)) changed[ids[i]] = after
  })
  const present = new Set(ids)
  for (const id of Object.keys(blocks)) if (!present.has(id)) changed[id] = null
  return changed
}

/** Returns the block of a node; null for a fixed block that neither the document nor a copy has. */
function blockOf(node: JSONContent, order: number, before: Block | undefined): Block | null {
  const inlines = node.content?.flatMap(inlineOf) ?? []
  if (node.type === 'textBlock') {
    const { style, indent } = node.attrs as { style: TextStyle; indent: number }
    return { kind: 'text', style, indent, inlines, order, pin: null }
  }
  if (node.type === 'questionBlock')
    return { kind: 'question', question: node.attrs!.question as string, answer: inlines, order, pin: null }
  if (before) return { ...before, order }
  const copied = node.attrs!.content as BlockContent | null | undefined
  return copied ? ({ ...copied, order, pin: null } as Block) : null
}
