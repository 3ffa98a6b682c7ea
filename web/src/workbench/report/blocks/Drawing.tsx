import { useLayoutEffect, useRef } from 'react'
import { cleanSvg, ownSvg } from './cleanSvg.ts'

/** A drawing in SVG, within the page so that it uses the page's fonts and is printed as vectors. */
export function Drawing({
  svg,
  isOwn = false,
}: {
  svg: string
  /** Whether this page has made it: another one is cleaned of what runs or loads. */
  isOwn?: boolean
}) {
  const place = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => {
    const drawn = isOwn ? ownSvg(svg) : cleanSvg(svg)
    place.current!.replaceChildren(...(drawn ? [drawn] : []))
  }, [svg, isOwn])
  return <div ref={place} className="drawing" />
}
