import type { GraphDescription, Plotted } from '@apokinema/core/graphs'
import { edits, type Graph } from '@apokinema/core/investigation'
import { type PointerEvent, type RefObject, useMemo, useRef, useState } from 'react'
import { v4 as uuid } from 'uuid'
import { createStore } from 'zustand'
import { notify } from '../../common/messages.tsx'
import { useSession } from '../../document/SessionContext.tsx'
import type { GraphChart } from '../chart/graphChart.ts'
import type { DrawnStretch } from '../chart/highlights.ts'
import { FLAG } from '../chart/plugins.ts'
import { workbench } from '../workbenchStore.ts'

/** Pixels to a stretch's edge from which it is taken hold of. */
const EDGE_REACH = 7
/** Pixels to a point from which it is pointed at: along time, or in any direction. */
const POINT_REACH = 14

/** Pixels to a series from elsewhere from which it is taken hold of. */
const OVERLAY_REACH = 6

type Held =
  | { kind: 'new'; first: Plotted | null; time: number; x: number; y: number; moved: boolean }
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
 * Returns what hands do on a graph: a click goes to a point's frame, a drag chooses a stretch (along time, or along the path
 * from point to point), an edge of a stretch is moved, and what is pointed at is told.
 */
export function useGraphHands(
  id: string,
  graph: Graph,
  { isTime, series, overlays }: GraphDescription,
  drawn: readonly DrawnStretch[],
  chart: RefObject<GraphChart | null>,
) {
  const session = useSession()
  const held = useRef<Held | null>(null)
  const [drawing, setDrawing] = useState<{ from: number; to: number } | null>(null)
  // In a store of its own: the graph is not rendered for every point that the mouse comes by.
  const [pointed] = useState(() => createStore<PointedState>(() => ({ pointed: null })))
  const setPointed = (now: Pointed | null) => pointed.setState({ pointed: now })
  const points = series[0]?.points ?? []

  const placeOf = (event: PointerEvent<HTMLDivElement>) => {
    const instance = chart.current!
    const box = instance.canvas.getBoundingClientRect()
    const [x, y] = [event.clientX - box.left, event.clientY - box.top]
    return { x, y, time: instance.scales.x.getValueForPixel(x) ?? 0 }
  }
  const pixelOf = (point: Plotted) => {
    const { x, y } = chart.current!.scales
    return { x: x.getPixelForValue(point.x), y: y.getPixelForValue(point.y) }
  }
  const offOf = (point: Plotted, at: { x: number; y: number }) => {
    const pixel = pixelOf(point)
    return isTime ? Math.abs(pixel.x - at.x) : Math.hypot(pixel.x - at.x, pixel.y - at.y)
  }
  const nearest = (at: { x: number; y: number }): Plotted | null => {
    let [best, least] = [null as Plotted | null, Number.POSITIVE_INFINITY]
    for (const point of points) {
      const off = offOf(point, at)
      if (off < least) [best, least] = [point, off]
    }
    return best
  }

  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0 || !chart.current || points.length === 0) return
    event.currentTarget.setPointerCapture(event.pointerId)
    const { x, y, time } = placeOf(event)
    const { scales, chartArea } = chart.current
    const xOf = (at: number) => scales.x.getPixelForValue(at)
    const { top } = chartArea
    const flagged = drawn.find(
      ({ from }) => x >= xOf(from) && x <= xOf(from) + FLAG.width && y >= top && y <= top + FLAG.height,
    )
    if (flagged) {
      workbench.select({ kind: 'stretch', id: flagged.id })
      return
    }
    for (const { id: key, from, to } of drawn)
      for (const [moving, fixed] of [
        [from, to],
        [to, from],
      ])
        if (Math.abs(x - xOf(moving)) < EDGE_REACH) {
          held.current = { kind: 'edge', id: key, fixed, moving }
          workbench.select({ kind: 'stretch', id: key })
          return
        }
    const over = overlays.find(({ points: others }) =>
      others.some((point) => {
        const [dx, dy] = [xOf(point.x) - x, scales.y.getPixelForValue(point.y) - y]
        return Math.hypot(dx, dy) < OVERLAY_REACH
      }),
    )
    if (over) {
      held.current = { kind: 'overlay', id: over.id, time, offset: graph.overlays[over.id].offset }
      return
    }
    held.current = { kind: 'new', first: nearest({ x, y }), time, x, y, moved: false }
  }

  /** Returns the points of a stretch that goes from where it was begun to where the pointer is. */
  const between = (from: Extract<Held, { kind: 'new' }>, at: { x: number; y: number; time: number }) => {
    if (isTime) {
      const [low, high] = [Math.min(from.time, at.time), Math.max(from.time, at.time)]
      return points.filter(({ x }) => x >= low && x <= high)
    }
    const last = nearest(at)
    if (!from.first || !last) return []
    const [low, high] = [Math.min(from.first.frame, last.frame), Math.max(from.first.frame, last.frame)]
    return points.filter(({ frame }) => frame >= low && frame <= high)
  }
  const frameAt = (time: number) =>
    nearest({ x: chart.current!.scales.x.getPixelForValue(time), y: 0 })?.frame ?? 0

  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    const now = held.current
    if (!chart.current) return
    const at = placeOf(event)
    if (!now) {
      const point = nearest(at)
      if (!point || !(offOf(point, at) < POINT_REACH)) setPointed(null)
      else if (pointed.getState().pointed?.point !== point)
        setPointed({ point, ...pixelOf(point), width: chart.current.width })
      return
    }
    setPointed(null)
    if (now.kind === 'overlay') {
      session.preview(edits.moveOverlay(now.id, id, now.offset + at.time - now.time))
      return
    }
    if (now.kind === 'new') {
      if (!now.moved && Math.hypot(at.x - now.x, isTime ? 0 : at.y - now.y) < 4) return
      now.moved = true
      const some = between(now, at)
      setDrawing(
        isTime
          ? { from: Math.min(now.time, at.time), to: Math.max(now.time, at.time) }
          : { from: some[0]?.frame ?? 0, to: some.at(-1)?.frame ?? 0 },
      )
    } else {
      now.moving = at.time
      session.preview(edits.changeStretch(now.id, frameAt(now.fixed), frameAt(at.time)))
    }
  }

  const onPointerUp = (event: PointerEvent<HTMLDivElement>) => {
    const now = held.current
    held.current = null
    setDrawing(null)
    if (!now || !chart.current) return
    const at = placeOf(event)
    if (now.kind === 'overlay') {
      const offset = now.offset + at.time - now.time
      session.edit('move a series in time', edits.moveOverlay(now.id, id, offset))
      return
    }
    if (now.kind === 'edge') {
      session.edit('change the stretch', edits.changeStretch(now.id, frameAt(now.fixed), frameAt(at.time)))
      return
    }
    if (!now.moved) {
      const point = nearest(at)
      if (!point) return
      workbench.goTo(point.frame)
      workbench.select({ kind: 'mark', body: graph.body, frame: point.frame })
      return
    }
    const some = between(now, at)
    if (some.length < 2) {
      notify('A stretch needs at least two points. Drag over more of them.')
      return
    }
    const key = uuid()
    session.edit('choose a stretch', edits.addStretch(key, id, some[0].frame, some[some.length - 1].frame))
    workbench.select({ kind: 'stretch', id: key })
  }

  /** Frames of a stretch that is being drawn; null where none is. */
  const range = useMemo(() => {
    if (!drawing || !isTime) return drawing
    const main = series[0]?.points ?? []
    return framesOf(main.filter(({ x }) => x >= drawing.from && x <= drawing.to))
  }, [drawing, isTime, series])

  return {
    drawing,
    range,
    pointed,
    hands: {
      onPointerDown,
      onPointerMove,
      onPointerUp,
      onPointerLeave: () => setPointed(null),
      onPointerCancel: () => {
        held.current = null
        setDrawing(null)
        session.preview(null)
      },
    },
  }
}

const framesOf = (points: Plotted[]) => ({ from: points[0]?.frame ?? 0, to: points.at(-1)?.frame ?? -1 })
