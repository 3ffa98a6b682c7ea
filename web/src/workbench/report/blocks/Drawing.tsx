import DOMPurify from 'dompurify'
import { useLayoutEffect, useRef } from 'react'

/** A drawing in SVG, within the page so that it uses the page's fonts and is printed as vectors. It may come from outside: scripts and everything that loads is removed. */
export function Drawing({ svg }: { svg: string }) {
  const place = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => {
    const clean = DOMPurify.sanitize(svg, {
      USE_PROFILES: { svg: true },
      FORBID_TAGS: ['image', 'a', 'style', 'foreignObject'],
      RETURN_DOM_FRAGMENT: true,
    })
    const drawn = clean.querySelector('svg')
    drawn?.setAttribute('aria-hidden', 'true')
    const size = ['width', 'height'].map((side) => Number.parseFloat(drawn?.getAttribute(side) ?? ''))
    // With a view box it scales with its place, and its text with it.
    if (size.every((length) => length > 0)) drawn?.setAttribute('viewBox', `0 0 ${size.join(' ')}`)
    place.current!.replaceChildren(...(drawn ? [drawn] : []))
  }, [svg])
  return <div ref={place} className="drawing" />
}
