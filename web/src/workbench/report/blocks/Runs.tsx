import type { Run } from '@apokinema/words/report/shown'
import { useLayoutEffect, useRef } from 'react'
import { typeset } from '../tex.ts'
import { MarkedText } from './MarkedText.tsx'

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
    case 'text':
      return <MarkedText {...run} />
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
