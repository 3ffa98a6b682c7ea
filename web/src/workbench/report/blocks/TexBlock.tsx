import { useLayoutEffect, useRef } from 'react'
import { typeset } from '../tex.ts'

/** A displayed formula, with its number if it has one. */
export function TexBlock({ tex, label }: { tex: string; label?: string }) {
  const place = useRef<HTMLDivElement>(null)
  useLayoutEffect(() => {
    if (tex) typeset(tex, place.current!, true)
    else place.current!.textContent = 'Empty equation: write it in the settings on the right.'
  }, [tex])
  return (
    <div className="display-equation">
      <div ref={place} />
      {label && <span className="equation-number">({label.replace('Equation ', '')})</span>}
    </div>
  )
}
