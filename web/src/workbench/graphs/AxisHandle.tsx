import type { GraphDescription, Limits } from '@apokinema/core/graphs'
import { Box } from '@chakra-ui/react'
import { memo, type RefObject, useEffect, useRef } from 'react'
import { type GraphChart, LEFT } from '../chart/graphChart.ts'
import { useScaleGrip } from './useScaleGrip.ts'

/** Zoom factor of a wheel step. */
const WHEEL = 1.0015
/** Pause in milliseconds after which the wheel's steps so far become one edit. */
const SETTLED = 250
/** Height of the strip below a graph that acts as its x axis, in pixels. */
const BOTTOM = 26

/**
 * An axis of a graph as a handle: a drag moves it, the wheel or two fingers zoom around the
 * pointer, a double click resets its limits. The time axes of all graphs move together.
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

  // A native listener: React's can't prevent the page from scrolling.
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
