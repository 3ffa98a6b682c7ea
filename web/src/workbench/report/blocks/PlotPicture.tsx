import { useLayoutEffect, useState } from 'react'
import { type Plot, useSource } from '../source.ts'
import { Drawing } from './Drawing.tsx'
import { useSeen } from './useSeen.ts'

/** Milliseconds after which a graph that nobody sees is drawn anew: those in view come first. */
const LATER = 400

/** A plot, as vectors. It is drawn when it comes into view, and again when what it shows changes. */
export function PlotPicture({
  picture,
  width,
  digest,
}: {
  picture: Plot
  /** Share of the page's width. */
  width: number
  digest: string
}) {
  const source = useSource()
  const [drawn, setDrawn] = useState<{ key: string; svg: SVGElement | null } | null>(null)
  const [place, isSeen] = useSeen()
  const key = JSON.stringify([picture, width, digest])
  // Before anything is painted: what is corrected is to be seen at once, with the numbers.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says when it shows something else
  useLayoutEffect(() => {
    if (!isSeen) return
    const draw = () => setDrawn({ key, svg: source.svg(picture, width) })
    const { top, bottom } = place.current!.getBoundingClientRect()
    const isInView = bottom > 0 && top < window.innerHeight
    if (isInView || !drawn) {
      draw()
      return
    }
    const timer = window.setTimeout(draw, LATER)
    return () => window.clearTimeout(timer)
  }, [source, isSeen, key])
  return (
    <div ref={place} className="graph-picture" data-drawn={drawn?.key === key && drawn.svg !== null}>
      <svg className="room" viewBox={`0 0 100 ${100 * picture.ratio}`} aria-hidden="true" />
      {drawn?.svg && <Drawing svg={drawn.svg} />}
    </div>
  )
}
