import { NodeSelection, type Selection } from '@tiptap/pm/state'

/** Returns the id of the block that is selected, or in which the cursor is; null for none. */
export function selectedBlock(selection: Selection): string | null {
  const { $from } = selection
  const isWhole = selection instanceof NodeSelection && $from.depth === 0
  const node = isWhole ? selection.node : $from.depth > 0 ? $from.node(1) : null
  return (node?.attrs.id as string | undefined) ?? null
}
