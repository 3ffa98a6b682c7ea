import { useLayoutEffect, useRef } from 'react'
import { cleanSvg, ownSvg, scalable } from './cleanSvg.ts'

/** A drawing in SVG, within the page so that it uses the page's fonts and is printed as vectors. */
export function Drawing({
  svg,
  isOwn = false,
}: {
  /** The drawing as text, or one that this page has just made. */
  svg: string | SVGElement
  /** Whether this page has made the text: another one is cleaned of what runs or loads. */
  isOwn?: boolean
}) {
  const place = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => {
    const drawn = typeof svg === 'string' ? (isOwn ? ownSvg(svg) : cleanSvg(svg)) : scalable(svg)
    place.current!.replaceChildren(...(drawn ? [drawn] : []))
  }, [svg, isOwn])
  return <div ref={place} className="drawing" />
}
