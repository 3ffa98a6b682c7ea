import type { GraphDescription, Limits } from '@apokinema/core/graphs'
import { edits } from '@apokinema/core/investigation'
import { Box } from '@chakra-ui/react'
import type { Chart } from 'chart.js'
import { type PointerEvent, type RefObject, useEffect, useRef } from 'react'
import { useSession } from '../../document/SessionContext.tsx'
import { LEFT } from './chartOf.ts'
import { showTimes } from './timeView.ts'

/** How much a step of the wheel zooms. */
const WHEEL = 1.0015
/** Wheel steps that belong to one turn are kept as one edit after so many milliseconds of rest. */
const SETTLED = 250
/** Pixels below a graph that are its horizontal axis. */
const BOTTOM = 26

interface AxisHandleProps {
  id: string
  direction: 'across' | 'up'
  description: GraphDescription
  limits: { across: Limits; up: Limits }
  chart: RefObject<Chart<'scatter'> | null>
}

/**
 * An axis of a graph as something to take hold of: dragged it moves, the wheel (or two fingers) zooms around the
 * pointer, a double click lets it go as far as its values again. The times of all graphs go together.
 */
export function AxisHandle({ id, direction, description, limits, chart }: AxisHandleProps) {
  const session = useSession()
  const handle = useRef<HTMLDivElement>(null)
  const held = useRef<{ at: number; limits: Limits } | null>(null)
  const isUp = direction === 'up'
  const axis = description[direction]
  const isTime = !isUp && description.isTime
  const key = isUp ? 'scaleUp' : 'scaleAcross'

  const change = ({ from, to }: Limits) =>
    edits.scaleGraph(id, key, { from: from / axis.perKept, to: to / axis.perKept })
  const show = (seen: Limits) => (isTime ? showTimes(seen) : session.preview(change(seen)))
  const keep = (seen: Limits) => (isTime ? showTimes(seen) : session.edit('scale an axis', change(seen)))

  const positionOf = (event: { clientX: number; clientY: number }) => (isUp ? event.clientY : event.clientX)
  const moved = (event: PointerEvent): Limits => {
    const { at, limits: before } = held.current!
    const { width, height } = chart.current?.chartArea ?? { width: 1, height: 1 }
    const share = isUp ? (event.clientY - at) / height : (at - event.clientX) / width
    return shifted(before, share, axis.log)
  }

  // The wheel's own listener: React's can't keep the page from scrolling.
  const now = useRef({ seen: limits[direction], isLog: axis.log, show, keep })
  now.current = { seen: limits[direction], isLog: axis.log, show, keep }
  useEffect(() => {
    const element = handle.current
    if (!element) return
    let zoomed: Limits | null = null
    let settle: ReturnType<typeof setTimeout> | undefined
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      const { seen, isLog } = now.current
      const { top, left, width, height } = chart.current?.chartArea ?? {
        top: 0,
        left: 0,
        width: 1,
        height: 1,
      }
      const box = chart.current?.canvas.getBoundingClientRect()
      if (!box) return
      const share = isUp
        ? 1 - (event.clientY - box.top - top) / height
        : (event.clientX - box.left - left) / width
      zoomed = zoomedAround(zoomed ?? seen, share, WHEEL ** event.deltaY, isLog)
      now.current.show(zoomed)
      clearTimeout(settle)
      settle = setTimeout(() => {
        if (zoomed) now.current.keep(zoomed)
        zoomed = null
      }, SETTLED)
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => element.removeEventListener('wheel', onWheel)
  }, [isUp, chart])

  return (
    <Box
      ref={handle}
      position="absolute"
      left={isUp ? '0' : `${LEFT}px`}
      bottom="0"
      {...(isUp ? { top: '0', width: `${LEFT - 8}px` } : { right: '0', height: `${BOTTOM}px` })}
      cursor={isUp ? 'ns-resize' : 'ew-resize'}
      touchAction="none"
      title="Drag to move the scale, turn the wheel to zoom, double-click to see all"
      data-axis-handle={direction}
      onPointerDown={(event) => {
        event.stopPropagation()
        if (event.button !== 0) return
        event.currentTarget.setPointerCapture(event.pointerId)
        held.current = { at: positionOf(event), limits: limits[direction] }
      }}
      onPointerMove={(event) => {
        if (!held.current) return
        event.stopPropagation()
        show(moved(event))
      }}
      onPointerUp={(event) => {
        if (!held.current) return
        event.stopPropagation()
        const isMoved = Math.abs(positionOf(event) - held.current.at) > 2
        const seen = moved(event)
        held.current = null
        if (isMoved) keep(seen)
        else if (!isTime) session.preview(null)
      }}
      onPointerCancel={() => {
        held.current = null
        if (!isTime) session.preview(null)
      }}
      onDoubleClick={() => {
        if (isTime) showTimes(null)
        else session.edit('see all of an axis', edits.scaleGraph(id, key, { from: null, to: null }))
      }}
    />
  )
}

/** Limits moved by a share of what is seen. */
function shifted({ from, to }: Limits, share: number, isLog: boolean): Limits {
  if (!isLog) return { from: from + share * (to - from), to: to + share * (to - from) }
  const factor = (to / from) ** share
  return { from: from * factor, to: to * factor }
}

/** Limits drawn towards, or away from, a place among them. */
function zoomedAround({ from, to }: Limits, share: number, factor: number, isLog: boolean): Limits {
  const [low, high] = isLog ? [Math.log(from), Math.log(to)] : [from, to]
  const at = low + share * (high - low)
  const [below, above] = [at + (low - at) * factor, at + (high - at) * factor]
  return isLog ? { from: Math.exp(below), to: Math.exp(above) } : { from: below, to: above }
}
