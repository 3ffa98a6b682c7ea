import { NodeSelection } from '@tiptap/pm/state'
import { type Editor, useEditorState } from '@tiptap/react'

/** Returns the id of the block that is selected, or in which the cursor is; null for none. */
export function useSelectedBlock(editor: Editor | null): string | null {
  return useEditorState({
    editor,
    selector: ({ editor: now }) => {
      if (!now) return null
      const { selection } = now.state
      const node =
        selection instanceof NodeSelection && selection.$from.depth === 0
          ? selection.node
          : selection.$from.depth > 0
            ? selection.$from.node(1)
            : null
      return (node?.attrs.id as string | undefined) ?? null
    },
  })
}
