import { draggedLimits, type GraphDescription, type Limits, zoomedLimits } from '@apokinema/core/graphs'
import { edits } from '@apokinema/core/investigation'
import { type PointerEvent, type RefObject, useRef } from 'react'
import { useSession } from '../../document/SessionContext.tsx'
import type { GraphChart } from '../chart/graphChart.ts'
import { showTimes, useDraggedScale } from '../chart/timeView.ts'

/** Pixels from which on a scale has been dragged. */
const DRAGGED = 2

/** A scale of a graph in hands: dragged by one finger or the mouse, zoomed by two fingers or the wheel. */
export interface ScaleGrip {
  /** Fingers that hold it. */
  fingers: () => number
  take: (event: PointerEvent) => void
  move: (event: PointerEvent) => void
  /** A finger leaves; what is seen is kept with the last. */
  leave: (event: PointerEvent) => void
  /** All fingers leave; what was seen before is seen again, but for times. */
  drop: () => void
  /** Zooms around the pointer without keeping it; gives what is seen then. */
  zoom: (at: { clientX: number; clientY: number }, factor: number, seen: Limits | null) => Limits | null
  keep: (seen: Limits) => void
  /** Lets it go as far as its values again. */
  seeAll: () => void
}

/** Returns the times of all graphs go together; any other scale is the graph's own, kept in the investigation. */
export function useScaleGrip(
  id: string,
  direction: 'x' | 'y',
  description: GraphDescription,
  chart: RefObject<GraphChart | null>,
): ScaleGrip {
  const session = useSession()
  const isUp = direction === 'y'
  const axis = description[direction]
  const isTime = !isUp && description.isTime
  const key = isUp ? 'scaleY' : 'scaleX'
  const fingers = useRef(new Map<number, { before: number; now: number; isMoved: boolean; pixel: number }>())
  const began = useRef<Limits>({ from: 0, to: 1 })

  /** Returns what the chart shows now. */
  const seenNow = (): Limits => {
    const { min, max } = chart.current!.scales[isUp ? 'y' : 'x']
    return { from: min, to: max }
  }
  const letGo = () => useDraggedScale.setState({ dragged: null })
  const show = (seen: Limits) =>
    isTime ? showTimes(seen) : useDraggedScale.setState({ dragged: { id, direction, limits: seen } })
  const keep = (seen: Limits) => {
    if (isTime) {
      showTimes(seen)
      return
    }
    const { from, to } = seen
    session.edit(
      'scale an axis',
      edits.scaleGraph(id, key, { from: from / axis.perKept, to: to / axis.perKept }),
    )
    letGo()
  }
  const pixelOf = (at: { clientX: number; clientY: number }) => (isUp ? at.clientY : at.clientX)
  const shareOf = (at: { clientX: number; clientY: number }) => {
    const { canvas, chartArea } = chart.current!
    const box = canvas.getBoundingClientRect()
    return isUp
      ? 1 - (at.clientY - box.top - chartArea.top) / chartArea.height
      : (at.clientX - box.left - chartArea.left) / chartArea.width
  }
  const held = (): Limits => {
    const all = [...fingers.current.values()].slice(0, 2)
    return draggedLimits(
      began.current,
      all.map(({ before }) => before),
      all.map(({ now }) => now),
      axis.log,
    )
  }
  /** From now on fingers drag what is seen now. */
  const beginAnew = (seen: Limits) => {
    began.current = seen
    for (const finger of fingers.current.values()) finger.before = finger.now
  }
  return {
    fingers: () => fingers.current.size,
    take: (event) => {
      if (!chart.current) return
      const seen = fingers.current.size > 0 ? held() : seenNow()
      const share = shareOf(event)
      fingers.current.set(event.pointerId, {
        before: share,
        now: share,
        isMoved: false,
        pixel: pixelOf(event),
      })
      beginAnew(seen)
    },
    move: (event) => {
      const finger = fingers.current.get(event.pointerId)
      if (!finger || !chart.current) return
      finger.now = shareOf(event)
      finger.isMoved ||= Math.abs(pixelOf(event) - finger.pixel) > DRAGGED
      show(held())
    },
    leave: (event) => {
      const finger = fingers.current.get(event.pointerId)
      if (!finger) return
      const seen = held()
      fingers.current.delete(event.pointerId)
      if (fingers.current.size > 0) {
        beginAnew(seen)
        for (const other of fingers.current.values()) other.isMoved ||= finger.isMoved
      } else if (finger.isMoved) keep(seen)
      else if (!isTime) letGo()
    },
    drop: () => {
      if (fingers.current.size === 0) return
      fingers.current.clear()
      if (!isTime) letGo()
    },
    zoom: (at, factor, seen) => {
      if (!chart.current) return null
      const zoomed = zoomedLimits(seen ?? seenNow(), shareOf(at), factor, axis.log)
      show(zoomed)
      return zoomed
    },
    keep,
    seeAll: () => {
      if (isTime) showTimes(null)
      else session.edit('see all of an axis', edits.scaleGraph(id, key, { from: null, to: null }))
    },
  }
}
