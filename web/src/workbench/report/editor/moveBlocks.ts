import { type Editor, Extension } from '@tiptap/core'
import { Fragment } from '@tiptap/pm/model'
import { NodeSelection, TextSelection } from '@tiptap/pm/state'

/** Moves the block with the cursor, or the selected one, by one place. Returns true if it moved. */
function moveSelected({ state, view }: Editor, by: -1 | 1): boolean {
  const { doc, selection, tr } = state
  const index = selection.$from.index(0)
  if (!selection.empty && selection.$to.index(0) !== index && !(selection instanceof NodeSelection))
    return false
  const other = index + by
  if (other < 0 || other >= doc.childCount) return false
  const [first, second] = [doc.child(Math.min(index, other)), doc.child(Math.max(index, other))]
  const start = selection.$from.posAtIndex(Math.min(index, other), 0)
  tr.replaceWith(start, start + first.nodeSize + second.nodeSize, Fragment.from([second, first]))
  // The cursor moves along.
  const shift = by < 0 ? -first.nodeSize : second.nodeSize
  tr.setSelection(
    selection instanceof NodeSelection
      ? NodeSelection.create(tr.doc, selection.from + shift)
      : TextSelection.create(tr.doc, selection.anchor + shift, selection.head + shift),
  )
  view.dispatch(tr.scrollIntoView())
  return true
}

/** Keys that move blocks. */
export const MoveBlocks = Extension.create({
  name: 'moveBlocks',
  addKeyboardShortcuts: () => ({
    'Alt-ArrowUp': ({ editor }) => moveSelected(editor, -1),
    'Alt-ArrowDown': ({ editor }) => moveSelected(editor, 1),
  }),
})
