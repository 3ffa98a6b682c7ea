import type { Picture } from '@apokinema/words/report/shown'
import { useEffect, useState } from 'react'
import { useSession } from '../../../document/SessionContext.tsx'
import { Drawing } from './Drawing.tsx'
import { graphSvg } from './graphPictures.ts'
import { useSeen } from './useSeen.ts'

/** A graph of the investigation, as vectors. It is drawn when it comes into view, and again when what it shows changes. */
export function GraphPicture({
  picture,
  width,
  digest,
}: {
  picture: Extract<Picture, { of: 'graph' }>
  /** Share of the page's width. */
  width: number
  digest: string
}) {
  const session = useSession()
  const [svg, setSvg] = useState<string | null>(null)
  const [place, isSeen] = useSeen()
  // biome-ignore lint/correctness/useExhaustiveDependencies: the digest says when the graph shows something else
  useEffect(() => {
    if (!isSeen) return
    let isLatest = true
    void graphSvg(session.document, picture, width).then((drawn) => {
      if (isLatest) setSvg(drawn)
    })
    return () => {
      isLatest = false
    }
  }, [session, isSeen, JSON.stringify(picture), width, digest])
  return (
    <div ref={place} className="graph-picture" data-drawn={svg !== null}>
      <svg className="room" viewBox={`0 0 100 ${100 * picture.ratio}`} aria-hidden="true" />
      {svg && <Drawing svg={svg} isOwn />}
    </div>
  )
}
