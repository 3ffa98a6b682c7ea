import type { GraphDescription, Limits } from '@apokinema/core/graphs'
import { Box } from '@chakra-ui/react'
import { memo, type RefObject, useEffect, useRef } from 'react'
import { type GraphChart, LEFT } from '../chart/graphChart.ts'
import { useScaleGrip } from './useScaleGrip.ts'

/** How much a step of the wheel zooms. */
const WHEEL = 1.0015
/** Wheel steps that belong to one turn are kept as one edit after so many milliseconds of rest. */
const SETTLED = 250
/** Pixels below a graph that are its horizontal axis. */
const BOTTOM = 26

/**
 * An axis of a graph as something to take hold of: dragged it moves, the wheel (or two fingers) zooms around the
 * pointer, a double click lets it go as far as its values again. The times of all graphs go together.
 */
export const AxisHandle = memo(function AxisHandle({
  id,
  direction,
  description,
  chart,
}: {
  id: string
  direction: 'x' | 'y'
  description: GraphDescription
  chart: RefObject<GraphChart | null>
}) {
  const handle = useRef<HTMLDivElement>(null)
  const grip = useScaleGrip(id, direction, description, chart)
  const isUp = direction === 'y'

  // The wheel's own listener: React's can't keep the page from scrolling.
  const now = useRef(grip)
  now.current = grip
  useEffect(() => {
    const element = handle.current
    if (!element) return
    let zoomed: Limits | null = null
    let settle: ReturnType<typeof setTimeout> | undefined
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      zoomed = now.current.zoom(event, WHEEL ** event.deltaY, zoomed)
      clearTimeout(settle)
      settle = setTimeout(() => {
        if (zoomed) now.current.keep(zoomed)
        zoomed = null
      }, SETTLED)
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => element.removeEventListener('wheel', onWheel)
  }, [])

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
        grip.take(event)
      }}
      onPointerMove={(event) => {
        if (grip.fingers() === 0) return
        event.stopPropagation()
        grip.move(event)
      }}
      onPointerUp={(event) => {
        if (grip.fingers() === 0) return
        event.stopPropagation()
        grip.leave(event)
      }}
      onPointerCancel={grip.drop}
      onDoubleClick={grip.seeAll}
    />
  )
})
