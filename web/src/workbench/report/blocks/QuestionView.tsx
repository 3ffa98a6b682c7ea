import { NodeViewContent, type NodeViewProps, NodeViewWrapper } from '@tiptap/react'

/** A question, which a teacher writes, with a place for the answer. */
export function QuestionView({ node, updateAttributes }: NodeViewProps) {
  return (
    <NodeViewWrapper className="question-block" data-block="question">
      <div contentEditable={false}>
        <textarea
          rows={1}
          aria-label="Question"
          placeholder="Question"
          maxLength={4000}
          value={node.attrs.question as string}
          onChange={({ target }) => updateAttributes({ question: target.value })}
        />
      </div>
      <NodeViewContent className="answer" />
    </NodeViewWrapper>
  )
}
