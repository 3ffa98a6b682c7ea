import { useLayoutEffect, useRef } from 'react'
import { cleanSvg } from './cleanSvg.ts'

/** A drawing in SVG, within the page so that it uses the page's fonts and is printed as vectors. */
export function Drawing({ svg }: { svg: string }) {
  const place = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => {
    const drawn = cleanSvg(svg)
    place.current!.replaceChildren(...(drawn ? [drawn] : []))
  }, [svg])
  return <div ref={place} className="drawing" />
}
