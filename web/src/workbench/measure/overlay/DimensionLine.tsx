import { midpoint, type Point } from '@apokinema/core/geometry'
import type { Reference } from '@apokinema/core/investigation'
import { memo } from 'react'
import { lengthText } from '../../lengths.ts'
import { useWorkbench } from '../../workbenchStore.ts'
import type { OverlayProps } from './overlayProps.ts'
import { ArrowHead, Edged, Handle, Label, uprightAngle } from './strokes.tsx'

/** Distance of a dimension line from its object, in CSS pixels. */
const SET_OFF = 30

/** A reference length as a dimension line: two extension lines, a line with arrow heads, and the value along it. */
export const DimensionLine = memo(function DimensionLine({
  investigation,
  id,
  reference,
  see,
}: OverlayProps & { id: string; reference: Reference }) {
  const { lengthUnit } = investigation
  const selection = useWorkbench((state) => state.selection)
  const mode = useWorkbench((state) => state.mode)
  const [a, b] = reference.ends.map(see)
  const length = a && b ? Math.hypot(b.x - a.x, b.y - a.y) : 0
  if (!a || !b || length === 0) return null
  // On the left or upper side, whichever way the ends were drawn.
  const normal = { x: (b.y - a.y) / length, y: -(b.x - a.x) / length }
  const side = normal.x > 1e-9 || (Math.abs(normal.x) <= 1e-9 && normal.y > 0) ? -1 : 1
  const off = (point: Point, by: number): Point => ({
    x: point.x + side * normal.x * by,
    y: point.y + side * normal.y * by,
  })
  const [from, to] = [off(a, SET_OFF), off(b, SET_OFF)]
  const text = reference.length === null ? 'how long?' : lengthText(reference.length, lengthUnit)
  const chosen = (end: 0 | 1) =>
    selection?.kind === 'end' && selection.reference === id && selection.end === end
  const dash = reference.use === 'check' ? [6, 5] : undefined
  return (
    <g opacity={mode.kind === 'mark' ? 0.6 : 1}>
      {[a, b].map((end, i) => (
        <Edged key={i === 0 ? 'from' : 'to'} points={[off(end, 7), off(end, SET_OFF + 6)]} width={1.1} />
      ))}
      <Edged points={[from, to]} width={1.3} dash={dash} />
      <ArrowHead tip={to} from={from} />
      <ArrowHead tip={from} from={to} />
      <Label at={off(midpoint(a, b), SET_OFF + 13)} text={text} angle={uprightAngle(from, to)} />
      <Handle at={a} chosen={chosen(0)} />
      <Handle at={b} chosen={chosen(1)} />
    </g>
  )
})
