import type { ValueFormat, ValueSource } from '@apokinema/core/investigation'
import { valueText } from '@apokinema/core/report'
import { NO_LONGER_THERE } from '@apokinema/words/report/shown'
import { blockLabels } from '@apokinema/words/report/showReport'
import { type NodeViewProps, NodeViewWrapper } from '@tiptap/react'
import 'katex/dist/katex.min.css'
import { useLayoutEffect, useRef } from 'react'
import { useFollowed, useReport } from '../source.ts'
import { typeset } from '../tex.ts'

/** A live value in a text: it changes with its source. */
export function ValueChip({ node, selected }: NodeViewProps) {
  const { source, format } = node.attrs as { source: ValueSource; format: ValueFormat }
  const text = useFollowed((of) => {
    const live = of.subject().value(source)
    return live ? valueText(live, format) : null
  })
  return (
    <NodeViewWrapper
      as="span"
      className={`value${text === null ? ' gone' : ''}${selected ? ' selected' : ''}`}
      data-value-chip={source.of}
    >
      {text ?? NO_LONGER_THERE}
    </NodeViewWrapper>
  )
}

/** The number of a figure, a table or an equation in a text. */
export function ReferenceChip({ node, selected }: NodeViewProps) {
  const { block } = node.attrs as { block: string }
  const label = useReport(({ blocks }) => blockLabels(blocks).get(block) ?? null)
  return (
    <NodeViewWrapper
      as="span"
      className={`reference${label === null ? ' gone' : ''}${selected ? ' selected' : ''}`}
    >
      {label ?? NO_LONGER_THERE}
    </NodeViewWrapper>
  )
}

/** An equation in a text. */
export function EquationChip({ node, selected }: NodeViewProps) {
  const { tex } = node.attrs as { tex: string }
  const place = useRef<HTMLSpanElement>(null)
  useLayoutEffect(() => {
    typeset(tex, place.current!)
  }, [tex])
  return (
    <NodeViewWrapper as="span" className={`equation${selected ? ' selected' : ''}`}>
      <span ref={place} />
    </NodeViewWrapper>
  )
}
