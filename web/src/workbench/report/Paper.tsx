import { edits } from '@apokinema/core/investigation'
import { type Editor, EditorContent } from '@tiptap/react'
import { useRef } from 'react'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BlockHandle } from './BlockHandle.tsx'
import { LineField } from './LineField.tsx'
import { usePages } from './pages/usePages.ts'

/** The page: its head, and the blocks in the editor. */
export function Paper({ editor }: { editor: Editor }) {
  const session = useSession()
  const { title: investigationTitle, report } = useInvestigation()
  const sheet = useRef<HTMLElement>(null)
  usePages(editor, sheet, report.paper)
  const set = (label: string, change: Parameters<typeof edits.setReport>[0]) =>
    session.edit(label, edits.setReport(change))
  return (
    <article ref={sheet} className="paper" aria-label="Page">
      <header className="paper-head">
        <LineField
          label="Name and course"
          value={report.author}
          placeholder="Name, course"
          onCommit={(author) => set('change the name above the report', { author })}
        />
        <LineField
          label="Date"
          value={report.date}
          placeholder="Date"
          onCommit={(date) => set('change the date of the report', { date })}
        />
      </header>
      <h1>
        <LineField
          label="Title of the report"
          value={report.title}
          placeholder={investigationTitle}
          onCommit={(title) => set('change the title of the report', { title })}
        />
      </h1>
      <EditorContent editor={editor} className="writing" />
      <BlockHandle editor={editor} sheet={sheet} />
    </article>
  )
}
