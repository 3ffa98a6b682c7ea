import type { Picture } from '@apokinema/words/report/shown'
import { useEffect, useState } from 'react'
import { useSession } from '../../../document/SessionContext.tsx'
import { Drawing } from './Drawing.tsx'
import { graphSvg } from './graphPictures.ts'
import { useSeen } from './useSeen.ts'

/** Milliseconds after which a graph that nobody sees is drawn anew: those in view come first. */
const LATER = 400

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
  const [drawn, setDrawn] = useState<{ key: string; svg: string | null } | null>(null)
  const [place, isSeen] = useSeen()
  const key = JSON.stringify([picture, width, digest])
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says when the graph shows something else
  useEffect(() => {
    if (!isSeen) return
    let isLatest = true
    const draw = async () => {
      const svg = await graphSvg(session.document, picture, width)
      if (isLatest) setDrawn({ key, svg })
    }
    const { top, bottom } = place.current!.getBoundingClientRect()
    const isInView = bottom > 0 && top < window.innerHeight
    const timer = drawn && !isInView ? window.setTimeout(draw, LATER) : void draw()
    return () => {
      isLatest = false
      window.clearTimeout(timer)
    }
  }, [session, isSeen, key])
  return (
    <div ref={place} className="graph-picture" data-drawn={drawn?.key === key && drawn.svg !== null}>
      <svg className="room" viewBox={`0 0 100 ${100 * picture.ratio}`} aria-hidden="true" />
      {drawn?.svg && <Drawing svg={drawn.svg} isOwn />}
    </div>
  )
}
