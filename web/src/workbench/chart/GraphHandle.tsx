import { type KeyboardEvent, type PointerEvent, useRef } from 'react'
import { COLOUR } from '../../theme/palettes.ts'
import { ARROWS } from '../useKeys.ts'

/** Distance in pixels by which an arrow key moves a handle; ten times as far with Shift. */
const STEP = 1

/** A handle on a graph that is dragged, or moved by arrow keys. */
export function GraphHandle({
  at,
  label,
  value,
  text,
  onHold,
  onMove,
  onDrop,
  onKey,
  onCancel,
}: {
  /** In pixels of the graph's canvas. */
  at: { x: number; y: number }
  label: string
  /** Description for screen readers. */
  value: number
  text: string
  /** A drag begins. */
  onHold: () => void
  /** Called with the distance in pixels since the drag began. */
  onMove: (dx: number, dy: number) => void
  onDrop: (dx: number, dy: number) => void
  /** Called with the distance in pixels by which a key moves it. */
  onKey: (dx: number, dy: number) => void
  onCancel: () => void
}) {
  const held = useRef<{ x: number; y: number } | null>(null)
  const since = ({ clientX, clientY }: PointerEvent): [number, number] => [
    clientX - held.current!.x,
    clientY - held.current!.y,
  ]
  return (
    <circle
      role="slider"
      aria-label={label}
      aria-valuenow={value}
      aria-valuetext={text}
      tabIndex={0}
      cx={at.x}
      cy={at.y}
      r={7}
      fill={COLOUR.panel}
      stroke={COLOUR.petrol}
      strokeWidth={2}
      style={{ pointerEvents: 'auto', cursor: 'move', touchAction: 'none' }}
      onPointerDown={(event) => {
        event.stopPropagation()
        event.currentTarget.setPointerCapture(event.pointerId)
        held.current = { x: event.clientX, y: event.clientY }
        onHold()
      }}
      onPointerMove={(event) => {
        if (!held.current) return
        event.stopPropagation()
        onMove(...since(event))
      }}
      onPointerUp={(event) => {
        if (!held.current) return
        event.stopPropagation()
        onDrop(...since(event))
        held.current = null
      }}
      onPointerCancel={() => {
        held.current = null
        onCancel()
      }}
      onKeyDown={(event: KeyboardEvent) => {
        const by = ARROWS[event.key]
        if (!by) return
        event.preventDefault()
        event.stopPropagation()
        const far = event.shiftKey ? 10 * STEP : STEP
        onKey(far * by[0], far * by[1])
      }}
    />
  )
}
