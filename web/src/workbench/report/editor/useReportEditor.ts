import { type Editor, useEditor } from '@tiptap/react'
import { useEffect, useMemo } from 'react'
import { useSession } from '../../../document/SessionContext.tsx'
import type { Session } from '../../../document/session.ts'
import { editorContent } from './convert.ts'
import { reportExtensions } from './nodes.ts'
import { suggestions } from './suggestions.ts'
import { FROM_DOCUMENT, Writing } from './writing.ts'

/** Returns the editor of the report, and what turns writing into edits. */
export function useReportEditor(): { editor: Editor | null; writing: Writing } {
  const session = useSession()
  const writing = useMemo(() => new Writing(session), [session])
  const editor = useEditor(
    {
      extensions: [...reportExtensions(), suggestions(session, writing)],
      content: { type: 'doc', content: editorContent(session.document.report.blocks) },
      injectCSS: false,
      shouldRerenderOnTransaction: false,
      editorProps: {
        attributes: { 'aria-label': 'Report', role: 'textbox', 'aria-multiline': 'true', spellcheck: 'true' },
        handleKeyDown: (_, event) => undoByKey(session, writing, event),
      },
      onUpdate: ({ transaction }) => {
        if (!transaction.getMeta(FROM_DOCUMENT)) writing.later()
      },
      onBlur: () => writing.commit(),
    },
    [session],
  )
  useEffect(() => {
    writing.editor = editor
    writing.show()
    let before = session.document.report.blocks
    const end = session.store.subscribe(() => {
      const { blocks } = session.document.report
      if (blocks === before) return
      before = blocks
      writing.show()
    })
    return () => {
      writing.commit()
      end()
    }
  }, [editor, session, writing])
  return { editor, writing }
}

/** Undoes and redoes by the session's history. Returns true if it was such a key. */
function undoByKey(session: Session, writing: Writing, event: KeyboardEvent): boolean {
  if (!(event.ctrlKey || event.metaKey) || event.altKey) return false
  const key = event.key.toLowerCase()
  if (key !== 'z' && key !== 'y') return false
  event.preventDefault()
  writing.commit()
  if (key === 'y' || event.shiftKey) session.redo()
  else session.undo()
  return true
}
