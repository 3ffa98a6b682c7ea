import type { Shown, ShownBlock } from '@apokinema/words/report/shown'
import { type NodeViewProps, NodeViewWrapper } from '@tiptap/react'
import { memo } from 'react'
import { TableOnPages } from '../pages/TableOnPages.tsx'
import { useShown } from '../shownBlocks.ts'
import { Figure } from './Figure.tsx'
import { ResultBlock } from './ResultBlock.tsx'
import { Runs } from './Runs.tsx'
import { TexBlock } from './TexBlock.tsx'

/** A block that is not written in, in the editor: it can be selected, moved and deleted as a whole. */
export function FixedBlockView({ node, selected }: NodeViewProps) {
  const id = node.attrs.id as string
  const block = useShown(id)
  return (
    <NodeViewWrapper
      className={`fixed-block${selected ? ' selected' : ''}`}
      data-block={block?.shown.kind ?? 'new'}
      data-drag-handle
      contentEditable={false}
    >
      {block && <BlockContent block={block} />}
    </NodeViewWrapper>
  )
}

const BlockContent = memo(function BlockContent({ block: { id, shown, pinned } }: { block: ShownBlock }) {
  return (
    <>
      {pinned !== null && <p className="pinned">pinned {pinned.slice(0, 10)}</p>}
      <ShownContent id={id} shown={shown} />
    </>
  )
})

function ShownContent({ id, shown }: { id: string; shown: Shown }) {
  switch (shown.kind) {
    case 'text':
      return (
        <p dir="auto">
          <Runs runs={shown.runs} />
        </p>
      )
    case 'equation':
      return <TexBlock tex={shown.tex} label={shown.label} />
    case 'figure':
      return <Figure id={id} figure={shown} />
    case 'result':
      return <ResultBlock result={shown} />
    case 'table':
      return (
        <figure>
          <TableOnPages id={id} table={shown} />
        </figure>
      )
    case 'method':
      return (
        <>
          <p dir="auto">{shown.text}</p>
          {shown.hasChanged && (
            <p className="note">
              The facts have changed since this was written. See the settings on the right.
            </p>
          )}
        </>
      )
    case 'question':
      return (
        <>
          <p className="question" dir="auto">
            {shown.question}
          </p>
          <p dir="auto">
            <Runs runs={shown.answer} />
          </p>
        </>
      )
    case 'page-break':
      return <div className="page-break">page break</div>
    case 'missing':
      return <p className="gone">{shown.text}</p>
    case 'unknown':
      return (
        <p className="gone">This block was made with another version and can’t be shown here. It is kept.</p>
      )
  }
}
