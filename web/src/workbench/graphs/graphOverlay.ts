import type { Chart, Plugin } from 'chart.js'
import { PAINT } from '../../theme/system.ts'

/** A stretch as it is drawn on a graph. */
export interface DrawnStretch {
  id: string
  number: number
  from: number
  to: number
  chosen: boolean
}

/** How far a point can be off: by one standard error, and by smoothing beyond it. */
export interface DrawnError {
  time: number
  value: number
  error: number
  bias: number
}

/** What lies over a graph: the current frame's time, stretches, and one that is being drawn. */
export interface OverlayState {
  cursor: number
  stretches: DrawnStretch[]
  drawing: { from: number; to: number } | null
  /** Times at which the motion breaks. */
  breaks: number[]
  /** Error bars, and the colour of the body whose they are. */
  errors: DrawnError[]
  colour: string
}

export const FLAG = { width: 20, height: 19 }

/** Half the width of an error bar's ends. */
const CAP = 3.5

/** Bars of one standard error with ends, and beyond them, thin, what smoothing can be off by. */
function drawErrors({ ctx, chartArea, scales }: Chart, { errors, colour }: OverlayState): void {
  ctx.save()
  ctx.beginPath()
  ctx.rect(chartArea.left, chartArea.top, chartArea.width, chartArea.height)
  ctx.clip()
  ctx.strokeStyle = colour
  for (const { time, value, error, bias } of errors) {
    const x = scales.x.getPixelForValue(time)
    for (const sign of [1, -1]) {
      const [middle, end, last] = [value, value + sign * error, value + sign * (error + bias)].map((y) =>
        scales.y.getPixelForValue(y),
      )
      ctx.lineWidth = 1.4
      ctx.beginPath()
      ctx.moveTo(x, middle)
      ctx.lineTo(x, end)
      ctx.moveTo(x - CAP, end)
      ctx.lineTo(x + CAP, end)
      ctx.stroke()
      if (!Number.isFinite(last)) continue
      ctx.lineWidth = 0.7
      ctx.beginPath()
      ctx.moveTo(x, end)
      ctx.lineTo(x, last)
      ctx.stroke()
    }
  }
  ctx.restore()
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
      drawErrors(chart, state())
      chart.ctx.restore()
    },
    afterDatasetsDraw(chart) {
      const { ctx, chartArea, scales } = chart
      const { stretches, cursor, breaks } = state()
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
      const x = scales.x.getPixelForValue(cursor)
      if (x >= chartArea.left - 1 && x <= chartArea.right + 1)
        for (const [colour, width] of [
          ['rgba(60,38,0,0.55)', 3.6],
          [PAINT.saffron, 2.4],
        ] as const) {
          ctx.strokeStyle = colour
          ctx.lineWidth = width
          ctx.beginPath()
          ctx.moveTo(x, chartArea.top - 6)
          ctx.lineTo(x, chartArea.bottom)
          ctx.stroke()
        }
      ctx.restore()
    },
  }
}
