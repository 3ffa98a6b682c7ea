import type { GraphDescription, Plotted } from '@apokinema/core/graphs'
import type { PointerEvent } from 'react'
import type { GraphChart } from '../chart/graphChart.ts'
import type { DrawnStretch } from '../chart/highlights.ts'
import { FLAG } from '../chart/plugins.ts'

/** Distance in pixels within which an edge of a stretch is hit. */
const EDGE_REACH = 7
/** Distance in pixels within which data from elsewhere is hit. */
const OVERLAY_REACH = 6

/** A point of the chart's canvas in pixels, and the time there. */
export interface ChartPoint {
  x: number
  y: number
  time: number
}

/** Returns where a pointer is on a chart. */
export function chartPoint(chart: GraphChart, event: PointerEvent): ChartPoint {
  const box = chart.canvas.getBoundingClientRect()
  const [x, y] = [event.clientX - box.left, event.clientY - box.top]
  return { x, y, time: chart.scales.x.getValueForPixel(x) ?? 0 }
}

/** Returns the pixel of a point of a series. */
export function pixelOf({ scales: { x, y } }: GraphChart, point: { x: number; y: number }) {
  return { x: x.getPixelForValue(point.x), y: y.getPixelForValue(point.y) }
}

/** Returns a distance in pixels from a point of a series: along the time axis, or in the plane of a path. */
export function distanceTo(
  chart: GraphChart,
  point: Plotted,
  at: { x: number; y: number },
  isTime: boolean,
): number {
  const pixel = pixelOf(chart, point)
  return isTime ? Math.abs(pixel.x - at.x) : Math.hypot(pixel.x - at.x, pixel.y - at.y)
}

/** Returns the nearest of some points; null if there is none. */
export function nearestPoint(
  chart: GraphChart,
  points: readonly Plotted[],
  at: { x: number; y: number },
  isTime: boolean,
): Plotted | null {
  let [best, least] = [null as Plotted | null, Number.POSITIVE_INFINITY]
  for (const point of points) {
    const distance = distanceTo(chart, point, at, isTime)
    if (distance < least) [best, least] = [point, distance]
  }
  return best
}

/** What can be hit on a graph besides its points; an edge with the time of the stretch's other edge. */
export type GraphHit =
  | { kind: 'flag'; stretch: string }
  | { kind: 'edge'; stretch: string; fixed: number; moving: number }
  | { kind: 'overlay'; overlay: string }

/** Returns the flag or the edge of a stretch, or the data from elsewhere, at a point of a chart; null if there is none. */
export function graphHitTest(
  chart: GraphChart,
  { x, y }: { x: number; y: number },
  stretches: readonly DrawnStretch[],
  overlays: GraphDescription['overlays'],
): GraphHit | null {
  const xOf = (time: number) => chart.scales.x.getPixelForValue(time)
  const { top } = chart.chartArea
  for (const { id, from } of stretches) {
    const left = xOf(from)
    if (x >= left && x <= left + FLAG.width && y >= top && y <= top + FLAG.height)
      return { kind: 'flag', stretch: id }
  }
  for (const { id, from, to } of stretches)
    for (const [moving, fixed] of [
      [from, to],
      [to, from],
    ])
      if (Math.abs(x - xOf(moving)) < EDGE_REACH) return { kind: 'edge', stretch: id, fixed, moving }
  const overlay = overlays.find(({ points }) =>
    points.some((point) => {
      const pixel = pixelOf(chart, point)
      return Math.hypot(pixel.x - x, pixel.y - y) < OVERLAY_REACH
    }),
  )
  return overlay ? { kind: 'overlay', overlay: overlay.id } : null
}

/** Where the drawing of a stretch began: the nearest point, and the place on the chart. */
export interface StretchStart extends ChartPoint {
  first: Plotted | null
}

/** Returns the points between the start of a stretch and a pointer: along time, or along the path from point to point. */
export function pointsBetween(
  chart: GraphChart,
  points: readonly Plotted[],
  start: StretchStart,
  at: ChartPoint,
  isTime: boolean,
): Plotted[] {
  if (isTime) {
    const [low, high] = [Math.min(start.time, at.time), Math.max(start.time, at.time)]
    return points.filter(({ x }) => x >= low && x <= high)
  }
  const last = nearestPoint(chart, points, at, false)
  if (!start.first || !last) return []
  const [low, high] = [Math.min(start.first.frame, last.frame), Math.max(start.first.frame, last.frame)]
  return points.filter(({ frame }) => frame >= low && frame <= high)
}
