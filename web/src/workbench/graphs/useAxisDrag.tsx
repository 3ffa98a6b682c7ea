import type { GraphDescription, Limits } from '@apokinema/core/graphs'
import { edits, type Graph } from '@apokinema/core/investigation'
import { Box } from '@chakra-ui/react'
import type { Chart } from 'chart.js'
import { type PointerEvent, type ReactNode, type RefObject, useEffect, useRef } from 'react'
import { useSession } from '../../document/SessionContext.tsx'
import { LEFT } from './chartOf.ts'

/** How much a step of the wheel zooms. */
const WHEEL = 1.0015
/** Wheel steps that belong to one turn are kept as one edit after so many milliseconds of rest. */
const SETTLED = 250

/**
 * A graph's vertical axis as something to take hold of: dragged it moves, the wheel zooms around the pointer, a double
 * click lets it go as far as its values again.
 */
export function useAxisDrag(
  id: string,
  { scaleUp }: Graph,
  { up }: GraphDescription,
  limits: { up: Limits },
  chart: RefObject<Chart<'scatter'> | null>,
): ReactNode {
  const session = useSession()
  const held = useRef<{ y: number; limits: Limits } | null>(null)
  const handle = useRef<HTMLDivElement>(null)
  const toBe = (from: Limits) => ({ from: from.from / up.perKept, to: from.to / up.perKept })
  const area = () => chart.current?.chartArea ?? { top: 0, height: 1 }

  const moved = (event: PointerEvent): Limits => {
    const { y, limits: before } = held.current!
    const share = (event.clientY - y) / area().height
    if (up.log) {
      const factor = (before.to / before.from) ** share
      return { from: before.from * factor, to: before.to * factor }
    }
    const by = share * (before.to - before.from)
    return { from: before.from + by, to: before.to + by }
  }

  // The wheel's own listener: React's can't keep the page from scrolling.
  const now = useRef({ limits: limits.up, toBe, isLog: up.log })
  now.current = { limits: limits.up, toBe, isLog: up.log }
  useEffect(() => {
    const element = handle.current
    if (!element) return
    let zoomed: Limits | null = null
    let settle: ReturnType<typeof setTimeout> | undefined
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      const { limits: shown, toBe: kept, isLog } = now.current
      const before = zoomed ?? shown
      const { top, height } = chart.current?.chartArea ?? { top: 0, height: 1 }
      const share = 1 - (event.clientY - element.getBoundingClientRect().top - top) / height
      const factor = WHEEL ** event.deltaY
      zoomed = isLog ? zoomedLog(before, share, factor) : zoomedLinear(before, share, factor)
      const change = kept(zoomed)
      session.preview(edits.scaleGraph(id, 'scaleUp', change))
      clearTimeout(settle)
      settle = setTimeout(() => {
        zoomed = null
        session.edit('scale an axis', edits.scaleGraph(id, 'scaleUp', change))
      }, SETTLED)
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => element.removeEventListener('wheel', onWheel)
  }, [session, id, chart])

  return (
    <Box
      ref={handle}
      position="absolute"
      left="0"
      top="0"
      bottom="0"
      width={`${LEFT - 8}px`}
      cursor="ns-resize"
      touchAction="none"
      title="Drag to move the scale, turn the wheel to zoom, double-click to see all"
      data-axis-drag
      onPointerDown={(event) => {
        event.stopPropagation()
        if (event.button !== 0) return
        event.currentTarget.setPointerCapture(event.pointerId)
        held.current = { y: event.clientY, limits: limits.up }
      }}
      onPointerMove={(event) => {
        if (!held.current) return
        event.stopPropagation()
        session.preview(edits.scaleGraph(id, 'scaleUp', toBe(moved(event))))
      }}
      onPointerUp={(event) => {
        if (!held.current) return
        event.stopPropagation()
        const isMoved = Math.abs(event.clientY - held.current.y) > 2
        const change = toBe(moved(event))
        held.current = null
        if (isMoved) session.edit('scale an axis', edits.scaleGraph(id, 'scaleUp', change))
        else session.preview(null)
      }}
      onPointerCancel={() => {
        held.current = null
        session.preview(null)
      }}
      onDoubleClick={() => {
        if (scaleUp.from !== null || scaleUp.to !== null)
          session.edit('see all of an axis', edits.scaleGraph(id, 'scaleUp', { from: null, to: null }))
      }}
    />
  )
}

function zoomedLinear({ from, to }: Limits, share: number, factor: number): Limits {
  const at = from + share * (to - from)
  return { from: at + (from - at) * factor, to: at + (to - at) * factor }
}

function zoomedLog({ from, to }: Limits, share: number, factor: number): Limits {
  const { from: low, to: high } = zoomedLinear({ from: Math.log(from), to: Math.log(to) }, share, factor)
  return { from: Math.exp(low), to: Math.exp(high) }
}
