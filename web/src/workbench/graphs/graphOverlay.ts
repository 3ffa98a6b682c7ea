import type { Plotted } from '@apokinema/core/graphs'
import type { Chart, Plugin } from 'chart.js'
import { PAINT } from '../../theme/system.ts'
import { drawPoints, type PointsState } from './graphPoints.ts'

/** A stretch as it is drawn on a graph. */
export interface DrawnStretch {
  id: string
  number: number
  from: number
  to: number
  chosen: boolean
}

/** How far points can be off, and the colour of the body whose they are. */
interface DrawnErrors {
  points: readonly Plotted[]
  colour: string
}

/** Words that are pinned to a point. */
interface DrawnNote {
  x: number
  y: number
  text: string
}

/** What lies over a graph: the current frame, stretches, one that is being drawn, breaks, error bars, notes. */
export interface OverlayState {
  /** Against time: that of the current frame; otherwise where its points are. */
  cursor: { time: number } | { places: { x: number; y: number }[] }
  stretches: DrawnStretch[]
  drawing: { from: number; to: number } | null
  /** Times at which the motion breaks. */
  breaks: number[]
  errors: DrawnErrors[]
  notes: DrawnNote[]
  points: PointsState
}

/** The current frame: saffron with a dark edge. */
const CURSOR = [
  ['rgba(60,38,0,0.55)', 3.6],
  [PAINT.saffron, 2.4],
] as const

export const FLAG = { width: 20, height: 19 }

/** Half the width of an error bar's ends. */
const CAP = 3.5

/** Bars of one standard error with ends, and beyond them, thin, what smoothing can be off by. */
function drawErrors({ ctx, chartArea, scales }: Chart, { points, colour }: DrawnErrors): void {
  ctx.save()
  ctx.beginPath()
  ctx.rect(chartArea.left, chartArea.top, chartArea.width, chartArea.height)
  ctx.clip()
  ctx.strokeStyle = colour
  /** A bar from the point to so far away, along one direction, with an end across. */
  const bar = (x: number, y: number, end: { x: number; y: number }, width: number, cap: number) => {
    ctx.lineWidth = width
    ctx.beginPath()
    ctx.moveTo(x, y)
    ctx.lineTo(end.x, end.y)
    const [dx, dy] = end.x === x ? [cap, 0] : [0, cap]
    ctx.moveTo(end.x - dx, end.y - dy)
    ctx.lineTo(end.x + dx, end.y + dy)
    ctx.stroke()
  }
  for (const { x: atX, y: atY, errorX, errorY, bias } of points) {
    const x = scales.x.getPixelForValue(atX)
    const y = scales.y.getPixelForValue(atY)
    for (const sign of [1, -1]) {
      const end = scales.y.getPixelForValue(atY + sign * errorY)
      bar(x, y, { x, y: end }, 1.4, CAP)
      const last = scales.y.getPixelForValue(atY + sign * (errorY + bias))
      if (Number.isFinite(last)) bar(x, end, { x, y: last }, 0.7, 0)
      if (errorX > 0) bar(x, y, { x: scales.x.getPixelForValue(atX + sign * errorX), y }, 1.4, CAP)
    }
  }
  ctx.restore()
}

/** Notes beside their points, each with a short line to it. */
function drawNotes({ ctx, chartArea, scales }: Chart, notes: DrawnNote[]): void {
  ctx.font = "13px 'Instrument Sans Variable'"
  ctx.textBaseline = 'middle'
  for (const { x: atX, y: atY, text } of notes) {
    const [x, y] = [scales.x.getPixelForValue(atX), scales.y.getPixelForValue(atY)]
    const { width } = ctx.measureText(text)
    const isLeft = x + width + 30 > chartArea.right
    const side = isLeft ? -1 : 1
    const up = y - 22 < chartArea.top + 10 ? 22 : -22
    ctx.strokeStyle = PAINT.ink
    ctx.lineWidth = 1
    ctx.beginPath()
    ctx.moveTo(x + 5 * side, y + Math.sign(up) * 5)
    ctx.lineTo(x + 16 * side, y + up)
    ctx.stroke()
    ctx.textAlign = isLeft ? 'right' : 'left'
    ctx.lineWidth = 4
    ctx.strokeStyle = PAINT.panel
    ctx.lineJoin = 'round'
    ctx.strokeText(text, x + 19 * side, y + up)
    ctx.fillStyle = PAINT.ink
    ctx.fillText(text, x + 19 * side, y + up)
  }
}

/** Bands of stretches under the points, their edges, flags and the saffron cursor over them. */
export function overlayPlugin(state: () => OverlayState): Plugin<'scatter'> {
  const band = (chart: Chart, from: number, to: number, colour: string) => {
    const { ctx, chartArea, scales } = chart
    const [left, right] = [scales.x.getPixelForValue(from), scales.x.getPixelForValue(to)]
    ctx.fillStyle = colour
    ctx.fillRect(left, chartArea.top, right - left, chartArea.bottom - chartArea.top)
    return [left, right]
  }
  return {
    id: 'overlay',
    beforeDatasetsDraw(chart) {
      const { stretches, drawing } = state()
      chart.ctx.save()
      for (const { from, to, chosen } of stretches)
        band(chart, from, to, chosen ? 'rgba(15,92,92,0.11)' : 'rgba(15,92,92,0.06)')
      if (drawing) band(chart, drawing.from, drawing.to, 'rgba(15,92,92,0.16)')
      for (const errors of state().errors) drawErrors(chart, errors)
      chart.ctx.restore()
    },
    afterDatasetsDraw(chart) {
      const { ctx, chartArea, scales } = chart
      const { stretches, cursor, breaks, notes, points } = state()
      drawPoints(chart, points)
      ctx.save()
      ctx.strokeStyle = PAINT.ink
      ctx.lineWidth = 1.4
      ctx.setLineDash([2, 4])
      ctx.beginPath()
      for (const time of breaks) {
        const x = scales.x.getPixelForValue(time)
        ctx.moveTo(x, chartArea.top)
        ctx.lineTo(x, chartArea.bottom)
      }
      ctx.stroke()
      ctx.setLineDash([])
      for (const { from, to, number, chosen } of stretches) {
        const [left, right] = [scales.x.getPixelForValue(from), scales.x.getPixelForValue(to)]
        ctx.strokeStyle = PAINT.petrol
        ctx.lineWidth = chosen ? 2 : 1.2
        ctx.beginPath()
        for (const x of [left, right]) {
          ctx.moveTo(x, chartArea.top)
          ctx.lineTo(x, chartArea.bottom)
        }
        ctx.stroke()
        ctx.fillStyle = PAINT.petrol
        ctx.fillRect(left, chartArea.top, FLAG.width, FLAG.height)
        ctx.fillStyle = '#FFFFFF'
        ctx.font = "600 12px 'JetBrains Mono Variable'"
        ctx.textAlign = 'center'
        ctx.textBaseline = 'middle'
        ctx.fillText(String(number), left + FLAG.width / 2, chartArea.top + FLAG.height / 2 + 1)
      }
      drawNotes(chart, notes)
      if ('places' in cursor)
        for (const { x, y } of cursor.places)
          for (const [colour, width] of CURSOR) {
            ctx.strokeStyle = colour
            ctx.lineWidth = width
            ctx.beginPath()
            ctx.arc(scales.x.getPixelForValue(x), scales.y.getPixelForValue(y), 8, 0, 2 * Math.PI)
            ctx.stroke()
          }
      else {
        const x = scales.x.getPixelForValue(cursor.time)
        if (x >= chartArea.left - 1 && x <= chartArea.right + 1)
          for (const [colour, width] of CURSOR) {
            ctx.strokeStyle = colour
            ctx.lineWidth = width
            ctx.beginPath()
            ctx.moveTo(x, chartArea.top - 6)
            ctx.lineTo(x, chartArea.bottom)
            ctx.stroke()
          }
      }
      ctx.restore()
    },
  }
}
