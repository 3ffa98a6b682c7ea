import type { Run } from '@apokinema/words/report/shown'
import { useLayoutEffect, useRef } from 'react'
import { typeset } from '../editor/chips.tsx'

/** Pieces of text that are not written in. */
export function Runs({ runs }: { runs: readonly Run[] }) {
  // biome-ignore lint/suspicious/noArrayIndexKey: pieces have no other name
  return runs.map((run, i) => <Piece key={i} run={run} />)
}

function Piece({ run }: { run: Run }) {
  switch (run.kind) {
    case 'line-break':
      return <br />
    case 'equation':
      return <InlineTex tex={run.tex} />
    case 'text': {
      let text = run.link === null ? run.text : <a href={run.link}>{run.text}</a>
      if (run.marks.includes('bold')) text = <b>{text}</b>
      if (run.marks.includes('italic')) text = <i>{text}</i>
      if (run.marks.includes('subscript')) text = <sub>{text}</sub>
      if (run.marks.includes('superscript')) text = <sup>{text}</sup>
      return text
    }
    default:
      return <span className={run.isMissing ? 'gone' : run.kind}>{run.text}</span>
  }
}

function InlineTex({ tex }: { tex: string }) {
  const place = useRef<HTMLSpanElement>(null)
  useLayoutEffect(() => {
    typeset(tex, place.current!)
  }, [tex])
  return <span ref={place} />
}
