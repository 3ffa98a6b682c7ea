import { type BlockContent, contentOf, LIMITS } from '@apokinema/core/investigation'
import { NodeSelection, TextSelection } from '@tiptap/pm/state'
import type { EditorView } from '@tiptap/pm/view'
import { type Editor, useEditor } from '@tiptap/react'
import { useEffect, useMemo } from 'react'
import { notify } from '../../../common/messages.tsx'
import { undoByKey } from '../../../document/undoByKey.ts'
import { useSource } from '../source.ts'
import { editorContent } from './convert.ts'
import { fitPasted } from './fitPasted.ts'
import { insertPictures, picturesIn } from './insertPictures.ts'
import { reportExtensions } from './nodes.ts'
import { suggestions, useInsertMenu } from './suggestions.ts'
import { FROM_DOCUMENT, Writing } from './writing.ts'

/** Returns the editor of the report, and what turns writing into edits. */
export function useReportEditor(): { editor: Editor | null; writing: Writing } {
  const source = useSource()
  const { session } = source
  const writing = useMemo(() => new Writing(session), [session])
  /** Returns true if there were pictures among what was pasted or dropped: they are put in as blocks. */
  const takePictures = (data: DataTransfer | null) => {
    const pictures = picturesIn(data)
    // A spreadsheet's cells come with a picture of themselves: then the text is meant.
    if (pictures.length === 0 || data?.types.includes('text/html')) return false
    void insertPictures(session, writing, pictures)
    return true
  }
  const blockContent = (id: string): BlockContent | null => {
    const block = session.document.report.blocks[id]
    return block ? contentOf(block) : null
  }
  const editor = useEditor(
    {
      extensions: [...reportExtensions(blockContent), suggestions(source, writing)],
      content: { type: 'doc', content: editorContent(session.document.report.blocks) },
      injectCSS: false,
      shouldRerenderOnTransaction: false,
      editorProps: {
        attributes: { 'aria-label': 'Report', role: 'textbox', 'aria-multiline': 'true', spellcheck: 'true' },
        handleKeyDown: (_, event) => undoByKey(session, event, () => writing.commit()) || leaveByKey(event),
        handleTextInput: writeBehind,
        transformPastedHTML: withoutStyles,
        transformPasted: (slice, view) => {
          const fitted = fitPasted(slice, LIMITS.blocks - view.state.doc.childCount)
          if (fitted.isCut) notify('That is more than a report can hold: the end of it was left out.')
          return fitted.slice
        },
        handlePaste: (_, event) => takePictures(event.clipboardData),
        handleDrop: (_, event) => takePictures(event.dataTransfer),
      },
      onUpdate: ({ transaction }) => {
        if (!transaction.getMeta(FROM_DOCUMENT)) writing.later()
      },
      onBlur: () => writing.commit(),
    },
    [source],
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
    const commit = () => writing.commit()
    window.addEventListener('pagehide', commit)
    return () => {
      window.removeEventListener('pagehide', commit)
      commit()
      end()
    }
  }, [editor, session, writing])
  return { editor, writing }
}

/**
 * Returns HTML without style attributes that say nothing of emphasis: a word processor writes one on every element, and the
 * browser reports each to the console, which takes longer than reading the text.
 */
function withoutStyles(html: string): string {
  return html.replace(/\sstyle\s*=\s*("[^"]*"|'[^']*')/gi, (style) =>
    /font-weight|font-style|vertical-align/i.test(style) ? style : '',
  )
}

/** Writes what is typed while a whole block is selected behind it, not in its place. Returns true if it did. */
function writeBehind(view: EditorView, _from: number, _to: number, text: string): boolean {
  const { selection, schema, tr } = view.state
  if (!(selection instanceof NodeSelection) || selection.$from.depth > 0) return false
  tr.insert(selection.to, schema.nodes.textBlock.create(null, schema.text(text)))
  view.dispatch(
    tr.setSelection(TextSelection.create(tr.doc, selection.to + 1 + text.length)).scrollIntoView(),
  )
  return true
}

/**
 * Esc goes from the text to the settings of its block, since Tab writes in lists. Returns true if it did.
 */
function leaveByKey({ key }: KeyboardEvent): boolean {
  if (key !== 'Escape' || useInsertMenu.getState().items.length > 0) return false
  const first = document.querySelector<HTMLElement>(`[data-settings] :is(${FOCUSABLE})`)
  first?.focus()
  return first !== null
}

/** Elements of the settings that take the focus. */
const FOCUSABLE = 'button:not([disabled]), input, select, textarea'
