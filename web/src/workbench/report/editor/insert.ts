import { type BlockContent, edits, inOrder, together } from '@apokinema/core/investigation'
import type { Editor } from '@tiptap/core'
import { v4 as uuid } from 'uuid'
import type { ReportSession } from '../source.ts'
import { selectedBlock } from './selectedBlock.ts'
import type { Writing } from './writing.ts'

/** Returns where a block begins in the editor; null if it is not there. */
function positionOf(editor: Editor, id: string): number | null {
  let position: number | null = null
  editor.state.doc.forEach((node, offset) => {
    if (node.attrs.id === id) position = offset
  })
  return position
}

/** Selects a block, so that its settings are shown; the cursor goes into a text, and into the question of a question block. */
export function selectBlock({ editor }: Writing, id: string): void {
  const position = editor && !editor.isDestroyed ? positionOf(editor, id) : null
  if (!editor || position === null) return
  const node = editor.state.doc.nodeAt(position)!
  if (node.isAtom) editor.commands.setNodeSelection(position)
  else editor.commands.setTextSelection(position + 1)
  editor.view.focus()
  if (node.type.name === 'questionBlock')
    // The block is rendered after this transaction.
    requestAnimationFrame(() => {
      const place = editor.view.nodeDOM(position)
      if (place instanceof HTMLElement) place.querySelector('textarea')?.focus()
    })
}

/** Puts the cursor behind a block: into the text that follows, or into a new paragraph. */
export function focusBehind({ editor }: Writing, id: string): void {
  const position = editor && !editor.isDestroyed ? positionOf(editor, id) : null
  if (!editor || position === null) return
  const behind = position + editor.state.doc.nodeAt(position)!.nodeSize
  if (editor.state.doc.nodeAt(behind)?.type.name !== 'textBlock')
    editor.commands.insertContentAt(behind, { type: 'textBlock' })
  editor.commands.setTextSelection(behind + 1)
  editor.view.focus()
}

/** Puts the cursor into the first empty paragraph, or to the beginning. */
export function focusFirstGap(editor: Editor): void {
  let gap: number | null = null
  editor.state.doc.forEach((node, offset) => {
    if (gap === null && node.type.name === 'textBlock' && node.content.size === 0) gap = offset
  })
  editor.commands.setTextSelection((gap ?? 0) + 1)
  editor.view.focus()
}

/**
 * Puts blocks into the report: behind the block with the cursor, or in place of it if that is an empty paragraph. Without a cursor
 * at the end. An empty paragraph at the end stays, so that writing goes on below.
 *
 * @returns the ids of the blocks
 */
export function insertBlocks(
  session: ReportSession,
  writing: Writing,
  contents: readonly BlockContent[],
): string[] {
  writing.commit()
  const { blocks } = session.document.report
  const order = inOrder(blocks).map(([id]) => id)
  const { editor } = writing
  const current = editor && !editor.isDestroyed ? selectedBlock(editor.state.selection) : null
  const at = current === null ? -1 : order.indexOf(current)
  const block = at >= 0 ? blocks[order[at]] : undefined
  const isEmpty = block?.kind === 'text' && block.inlines.length === 0
  const isReplaced = isEmpty && at < order.length - 1
  const after = at < 0 ? (order.at(-1) ?? null) : isEmpty ? (order[at - 1] ?? null) : order[at]
  const added = contents.map((content) => [uuid(), content] as const)
  const mutator = edits.addBlocks(added, after)
  session.edit(
    'put something into the report',
    isReplaced ? together(mutator, edits.removeBlocks([order[at]])) : mutator,
  )
  const ids = added.map(([id]) => id)
  // Writing goes on behind the last one.
  const position = isReplaced && editor ? positionOf(editor, ids[ids.length - 1]) : null
  if (position !== null) editor!.commands.setNodeSelection(position)
  return ids
}
