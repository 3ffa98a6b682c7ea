import type { GraphDescription, Plotted } from '@apokinema/core/graphs'
import { edits, type Graph } from '@apokinema/core/investigation'
import { type PointerEvent, type RefObject, useMemo, useRef, useState } from 'react'
import { v4 as uuid } from 'uuid'
import { createStore } from 'zustand'
import { notify } from '../../common/messages.tsx'
import { useSession } from '../../document/SessionContext.tsx'
import type { GraphChart } from '../chart/graphChart.ts'
import type { DrawnStretch } from '../chart/highlights.ts'
import { workbench } from '../workbenchStore.ts'
import {
  type ChartPoint,
  chartPoint,
  distanceTo,
  graphHitTest,
  nearestPoint,
  pixelOf,
  pointsBetween,
  type StretchStart,
} from './graphHitTest.ts'

/** Distance in pixels within which a point is pointed at: along time, or in any direction. */
const POINT_REACH = 14
/** Distance in pixels that a press has to move to draw a stretch. */
const DRAG_REACH = 4

/** What a pressed pointer does. */
type Drag =
  | (StretchStart & { kind: 'new'; moved: boolean })
  | { kind: 'edge'; id: string; fixed: number; moving: number }
  | { kind: 'overlay'; id: string; time: number; offset: number }

/** A point that is pointed at, where it is on the graph, and how wide that is. */
interface Pointed {
  point: Plotted
  x: number
  y: number
  width: number
}

export interface PointedState {
  pointed: Pointed | null
}

/**
 * Returns the point under the mouse in a store of its own, so that the graph is not rendered for every point that the mouse
 * passes.
 */
function usePointed(chart: RefObject<GraphChart | null>, points: readonly Plotted[], isTime: boolean) {
  const [pointed] = useState(() => createStore<PointedState>(() => ({ pointed: null })))
  const point = (at: ChartPoint | null) => {
    const instance = chart.current
    const nearest = at && instance ? nearestPoint(instance, points, at, isTime) : null
    if (!at || !instance || !nearest || !(distanceTo(instance, nearest, at, isTime) < POINT_REACH))
      pointed.setState({ pointed: null })
    else if (pointed.getState().pointed?.point !== nearest)
      pointed.setState({
        pointed: { point: nearest, ...pixelOf(instance, nearest), width: instance.width },
      })
  }
  return { pointed, point }
}

/**
 * Returns the pointer handlers of a graph: a click goes to a point's frame, a drag chooses a stretch, moves an edge of one
 * or data from elsewhere. Also returns the stretch that is being drawn, and its frames. Over 80 lines since its handlers
 * share the drag that is going on.
 */
export function useGraphHands(
  id: string,
  graph: Graph,
  { isTime, series, overlays }: GraphDescription,
  stretches: readonly DrawnStretch[],
  chart: RefObject<GraphChart | null>,
) {
  const session = useSession()
  const drag = useRef<Drag | null>(null)
  const [drawing, setDrawing] = useState<{ from: number; to: number } | null>(null)
  const points = series[0]?.points ?? []
  const { pointed, point } = usePointed(chart, points, isTime)
  const frameAt = (time: number) =>
    nearestPoint(chart.current!, points, { x: chart.current!.scales.x.getPixelForValue(time), y: 0 }, isTime)
      ?.frame ?? 0
  const edgeMoved = ({ id: stretch, fixed }: Extract<Drag, { kind: 'edge' }>, time: number) =>
    edits.changeStretch(stretch, frameAt(fixed), frameAt(time))
  const overlayMoved = (
    { id: overlay, offset, time: from }: Extract<Drag, { kind: 'overlay' }>,
    time: number,
  ) => edits.moveOverlay(overlay, id, offset + time - from)

  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0 || !chart.current || points.length === 0) return
    event.currentTarget.setPointerCapture(event.pointerId)
    const at = chartPoint(chart.current, event)
    const hit = graphHitTest(chart.current, at, stretches, overlays)
    if (hit?.kind === 'flag' || hit?.kind === 'edge') workbench.select({ kind: 'stretch', id: hit.stretch })
    if (hit?.kind === 'flag') return
    if (hit?.kind === 'edge')
      drag.current = { kind: 'edge', id: hit.stretch, fixed: hit.fixed, moving: hit.moving }
    else if (hit?.kind === 'overlay') {
      const { offset } = graph.overlays[hit.overlay]
      drag.current = { kind: 'overlay', id: hit.overlay, time: at.time, offset }
    } else {
      const first = nearestPoint(chart.current, points, at, isTime)
      drag.current = { kind: 'new', first, ...at, moved: false }
    }
  }

  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    if (!chart.current) return
    const now = drag.current
    const at = chartPoint(chart.current, event)
    point(now ? null : at)
    if (now?.kind === 'overlay') session.preview(overlayMoved(now, at.time))
    else if (now?.kind === 'edge') {
      now.moving = at.time
      session.preview(edgeMoved(now, at.time))
    } else if (now?.kind === 'new') {
      if (!now.moved && Math.hypot(at.x - now.x, isTime ? 0 : at.y - now.y) < DRAG_REACH) return
      now.moved = true
      const some = isTime ? [] : pointsBetween(chart.current, points, now, at, false)
      setDrawing(
        isTime
          ? { from: Math.min(now.time, at.time), to: Math.max(now.time, at.time) }
          : { from: some[0]?.frame ?? 0, to: some.at(-1)?.frame ?? 0 },
      )
    }
  }

  const click = (at: ChartPoint) => {
    const nearest = nearestPoint(chart.current!, points, at, isTime)
    if (!nearest) return
    workbench.goTo(nearest.frame)
    workbench.select({ kind: 'mark', body: graph.body, frame: nearest.frame })
  }

  const addStretch = (some: readonly Plotted[]) => {
    if (some.length < 2) {
      notify('A stretch needs at least two points. Drag over more of them.')
      return
    }
    const key = uuid()
    session.edit('choose a stretch', edits.addStretch(key, id, some[0].frame, some[some.length - 1].frame))
    workbench.select({ kind: 'stretch', id: key })
  }

  const onPointerUp = (event: PointerEvent<HTMLDivElement>) => {
    const ended = drag.current
    drag.current = null
    setDrawing(null)
    if (!ended || !chart.current) return
    const at = chartPoint(chart.current, event)
    if (ended.kind === 'overlay') session.edit('move a series in time', overlayMoved(ended, at.time))
    else if (ended.kind === 'edge') session.edit('change the stretch', edgeMoved(ended, at.time))
    else if (!ended.moved) click(at)
    else addStretch(pointsBetween(chart.current, points, ended, at, isTime))
  }

  const onPointerCancel = () => {
    drag.current = null
    setDrawing(null)
    session.preview(null)
  }

  const range = useDrawnRange(drawing, isTime, points)
  return {
    drawing,
    range,
    pointed,
    hands: { onPointerDown, onPointerMove, onPointerUp, onPointerLeave: () => point(null), onPointerCancel },
  }
}

/** Returns the frames of a stretch that is being drawn; null if there is none. */
function useDrawnRange(
  drawing: { from: number; to: number } | null,
  isTime: boolean,
  points: readonly Plotted[],
) {
  return useMemo(() => {
    if (!drawing || !isTime) return drawing
    const inside = points.filter(({ x }) => x >= drawing.from && x <= drawing.to)
    return { from: inside[0]?.frame ?? 0, to: inside.at(-1)?.frame ?? -1 }
  }, [drawing, isTime, points])
}
