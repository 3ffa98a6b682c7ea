import type { Run } from '@apokinema/words/report/shown'
import type { ReactNode } from 'react'

/** Text with its emphasis and its link. */
export function MarkedText({ text, marks, link }: Extract<Run, { kind: 'text' }>) {
  let shown: ReactNode = link === null ? text : <a href={link}>{text}</a>
  if (marks.includes('bold')) shown = <b>{shown}</b>
  if (marks.includes('italic')) shown = <i>{shown}</i>
  if (marks.includes('subscript')) shown = <sub>{shown}</sub>
  if (marks.includes('superscript')) shown = <sup>{shown}</sup>
  return shown
}
