import { type GraphDescription, type Limits, zoomedLimits } from '@apokinema/core/graphs'
import { edits } from '@apokinema/core/investigation'
import { type PointerEvent, type RefObject, useState } from 'react'
import { useSession } from '../../document/SessionContext.tsx'
import type { GraphChart } from '../chart/graphChart.ts'
import { showTimes, useDraggedScale } from '../chart/timeView.ts'
import { AxisFingers } from './axisFingers.ts'

/** Handlers of an axis that is dragged by one finger or the mouse, and zoomed by two fingers or the wheel. */
export interface ScaleGrip {
  /** Returns the number of fingers on it. */
  fingers: () => number
  take: (event: PointerEvent) => void
  move: (event: PointerEvent) => void
  /** Removes a finger; the limits are committed with the last one. */
  leave: (event: PointerEvent) => void
  /** Removes all fingers, and restores the limits of any axis but time. */
  drop: () => void
  /** Zooms around the pointer without committing; returns the new limits, or null if there is no chart. */
  zoom: (at: { clientX: number; clientY: number }, factor: number, seen: Limits | null) => Limits | null
  /** Commits limits. */
  keep: (seen: Limits) => void
  /** Resets the limits to those of the values. */
  seeAll: () => void
}

/**
 * Returns the handlers of an axis of a graph. The time axis of all graphs is one, and not saved; the limits of any other
 * axis are saved with the graph.
 */
export function useScaleGrip(
  id: string,
  direction: 'x' | 'y',
  description: GraphDescription,
  chart: RefObject<GraphChart | null>,
): ScaleGrip {
  const session = useSession()
  const isY = direction === 'y'
  const axis = description[direction]
  const isTime = !isY && description.isTime
  const key = isY ? 'scaleY' : 'scaleX'
  const [fingers] = useState(() => new AxisFingers())

  const limitsNow = (): Limits => {
    const { min, max } = chart.current!.scales[direction]
    return { from: min, to: max }
  }
  const endDrag = () => useDraggedScale.setState({ dragged: null })
  const show = (seen: Limits) =>
    isTime ? showTimes(seen) : useDraggedScale.setState({ dragged: { id, direction, limits: seen } })
  const keep = (seen: Limits) => {
    if (isTime) {
      showTimes(seen)
      return
    }
    const limits = { from: seen.from / axis.perKept, to: seen.to / axis.perKept }
    session.edit('scale an axis', edits.scaleGraph(id, key, limits))
    endDrag()
  }
  const pixelOf = (at: { clientX: number; clientY: number }) => (isY ? at.clientY : at.clientX)
  const shareOf = (at: { clientX: number; clientY: number }) => {
    const { canvas, chartArea } = chart.current!
    const box = canvas.getBoundingClientRect()
    return isY
      ? 1 - (at.clientY - box.top - chartArea.top) / chartArea.height
      : (at.clientX - box.left - chartArea.left) / chartArea.width
  }
  return {
    fingers: () => fingers.count,
    take: (event) => {
      if (!chart.current) return
      const seen = fingers.count > 0 ? fingers.limits(axis.log) : limitsNow()
      fingers.add(event.pointerId, shareOf(event), pixelOf(event), seen)
    },
    move: (event) => {
      if (chart.current && fingers.move(event.pointerId, shareOf(event), pixelOf(event)))
        show(fingers.limits(axis.log))
    },
    leave: (event) => {
      const seen = fingers.limits(axis.log)
      const left = fingers.remove(event.pointerId, axis.log)
      if (!left || fingers.count > 0) return
      if (left.isMoved) keep(seen)
      else if (!isTime) endDrag()
    },
    drop: () => {
      if (fingers.count === 0) return
      fingers.clear()
      if (!isTime) endDrag()
    },
    zoom: (at, factor, seen) => {
      if (!chart.current) return null
      const zoomed = zoomedLimits(seen ?? limitsNow(), shareOf(at), factor, axis.log)
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
