import type { CSSProperties } from 'react'
import { COLOUR } from '../../theme/palettes.ts'
import { useWorkbench } from '../workbenchStore.ts'

/** The saffron line of the current frame, with a dark edge. Plain elements: it moves with every step. */
export function Cursor({ xOf, last }: { xOf: (frame: number) => number; last: number }) {
  const x = xOf(
    Math.min(
      useWorkbench((state) => state.frame),
      last,
    ),
  )
  return (
    <div style={{ ...LINE, transform: `translateX(${x}px)` }} data-cursor>
      <div style={HEAD} />
    </div>
  )
}

const LINE: CSSProperties = {
  position: 'absolute',
  top: 0,
  bottom: 0,
  left: -1.5,
  width: 3,
  background: COLOUR.saffron,
  outline: '0.5px solid rgba(60,38,0,0.55)',
  pointerEvents: 'none',
}
const HEAD: CSSProperties = {
  position: 'absolute',
  top: 0,
  left: -5,
  width: 13,
  height: 12,
  background: COLOUR.saffron,
  borderRadius: '2px 2px 6px 6px',
  border: '0.5px solid rgba(60,38,0,0.55)',
}
