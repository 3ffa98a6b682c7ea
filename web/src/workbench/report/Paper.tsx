import { edits } from '@apokinema/core/investigation'
import { type Editor, EditorContent } from '@tiptap/react'
import { useRef } from 'react'
import { BlockHandle } from './BlockHandle.tsx'
import { LineField } from './LineField.tsx'
import { usePages } from './pages/usePages.ts'
import { useDocumentTitle, useReport, useSource } from './source.ts'

/** The page: its head, and the blocks in the editor. */
export function Paper({ editor }: { editor: Editor }) {
  const { session } = useSource()
  const documentTitle = useDocumentTitle()
  const title = useReport((report) => report.title)
  const author = useReport((report) => report.author)
  const date = useReport((report) => report.date)
  const paper = useReport((report) => report.paper)
  const sheet = useRef<HTMLElement>(null)
  usePages(editor, sheet, paper)
  const set = (label: string, change: Parameters<typeof edits.setReport>[0]) =>
    session.edit(label, edits.setReport(change))
  return (
    <article ref={sheet} className="paper light" aria-label="Page">
      <header className="paper-head">
        <LineField
          label="Name and course"
          value={author}
          placeholder="Name, course"
          onCommit={(typed) => set('change the name above the report', { author: typed })}
        />
        <LineField
          label="Date"
          value={date}
          placeholder="Date"
          onCommit={(typed) => set('change the date of the report', { date: typed })}
        />
      </header>
      <h1>
        <LineField
          label="Title of the report"
          value={title}
          placeholder={documentTitle}
          onCommit={(typed) => set('change the title of the report', { title: typed })}
        />
      </h1>
      <EditorContent editor={editor} className="writing" />
      <BlockHandle editor={editor} sheet={sheet} />
    </article>
  )
}
