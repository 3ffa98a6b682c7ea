import { NodeViewContent, type NodeViewProps, NodeViewWrapper } from '@tiptap/react'

/** A question, which a teacher writes, with a place for the answer. */
export function QuestionView({ node, updateAttributes, editor, getPos }: NodeViewProps) {
  return (
    <NodeViewWrapper className="question-block" data-block="question">
      <div contentEditable={false}>
        <textarea
          rows={1}
          dir="auto"
          aria-label="Question"
          placeholder="Question"
          maxLength={4000}
          value={node.attrs.question as string}
          onChange={({ target }) => updateAttributes({ question: target.value })}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' || event.shiftKey) return
            event.preventDefault()
            const at = getPos()
            if (at === undefined) return
            editor.commands.setTextSelection(at + 1)
            editor.view.focus()
          }}
        />
      </div>
      <NodeViewContent className="answer" dir="auto" />
    </NodeViewWrapper>
  )
}
