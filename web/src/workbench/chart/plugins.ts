import type { Chart, Plugin } from 'chart.js'
import type { Look } from '../../theme/look.ts'
import type { Palette } from '../../theme/palettes.ts'
import type { GraphContent } from './graphDrawing.ts'
import { highlightsOf } from './highlights.ts'

/** The fonts of a graph, with fallbacks for where a drawing is opened without them. */
export const FONTS = {
  text: "'Instrument Sans Variable', 'Instrument Sans', sans-serif",
  numbers: "'JetBrains Mono Variable', 'JetBrains Mono', monospace",
}

/** Size of the flag at the start of a stretch, in pixels. */
export const FLAG = { width: 20, height: 19 }

function drawUpright({ ctx, chartArea }: Chart, x: number): void {
  ctx.moveTo(x, chartArea.top)
  ctx.lineTo(x, chartArea.bottom)
}

/** Bands of stretches below the points, their edges and flags above. */
export const stretchesPlugin = (look: () => Look): Plugin => ({
  id: 'stretches',
  beforeDatasetsDraw(chart) {
    const { palette } = look()
    const { stretches, drawing } = highlightsOf(chart)
    const { ctx, chartArea, scales } = chart
    const band = (from: number, to: number, fill: string) => {
      const [left, right] = [scales.x.getPixelForValue(from), scales.x.getPixelForValue(to)]
      ctx.fillStyle = fill
      ctx.fillRect(left, chartArea.top, right - left, chartArea.bottom - chartArea.top)
    }
    ctx.save()
    for (const { from, to, isChosen } of stretches)
      band(from, to, isChosen ? palette.stretchChosen : palette.stretch)
    if (drawing) band(drawing.from, drawing.to, palette.stretchDrawn)
    ctx.restore()
  },
  afterDatasetsDraw(chart) {
    const { ctx, chartArea, scales } = chart
    const { palette, type, stroke } = look()
    ctx.save()
    ctx.textAlign = 'center'
    ctx.textBaseline = 'middle'
    ctx.strokeStyle = palette.petrol
    ctx.lineWidth = 1.2 * stroke
    ctx.setLineDash([5, 4])
    ctx.beginPath()
    for (const { from, to } of highlightsOf(chart).proposed)
      for (const time of [from, to]) drawUpright(chart, scales.x.getPixelForValue(time))
    ctx.stroke()
    ctx.setLineDash([])
    for (const { number, from, to, isChosen } of highlightsOf(chart).stretches) {
      const [left, right] = [scales.x.getPixelForValue(from), scales.x.getPixelForValue(to)]
      ctx.strokeStyle = palette.petrol
      ctx.lineWidth = (isChosen ? 2 : 1.2) * stroke
      ctx.beginPath()
      for (const x of [left, right]) drawUpright(chart, x)
      ctx.stroke()
      ctx.fillStyle = palette.petrolSolid
      ctx.fillRect(left, chartArea.top, FLAG.width, FLAG.height)
      ctx.fillStyle = '#FFFFFF'
      ctx.font = `600 ${12 * type}px ${FONTS.numbers}`
      ctx.fillText(String(number), left + FLAG.width / 2, chartArea.top + FLAG.height / 2 + 1)
    }
    ctx.restore()
  },
})

/** The current frame, in saffron with a dark edge: a line at its time, or a ring around its points. */
export const cursorPlugin = (look: () => Look): Plugin => ({
  id: 'cursor',
  afterDatasetsDraw(chart) {
    const { cursor } = highlightsOf(chart)
    if (!cursor) return
    const { ctx, chartArea, scales } = chart
    const { palette, stroke: times } = look()
    ctx.save()
    const stroke = (trace: () => void) => {
      for (const [colour, width] of [
        ['rgba(60,38,0,0.55)', 2.4 * times + 1.2],
        [palette.saffron, 2.4 * times],
      ] as const) {
        ctx.strokeStyle = colour
        ctx.lineWidth = width
        ctx.beginPath()
        trace()
        ctx.stroke()
      }
    }
    if ('places' in cursor)
      for (const { x, y } of cursor.places)
        stroke(() => ctx.arc(scales.x.getPixelForValue(x), scales.y.getPixelForValue(y), 8, 0, 2 * Math.PI))
    else {
      const x = scales.x.getPixelForValue(cursor.time)
      if (x >= chartArea.left - 1 && x <= chartArea.right + 1)
        stroke(() => {
          ctx.moveTo(x, chartArea.top - 6)
          ctx.lineTo(x, chartArea.bottom)
        })
    }
    ctx.restore()
  },
})

/** Writes a text with a rim in the colour of the ground. */
function writeOver(
  ctx: CanvasRenderingContext2D,
  text: string,
  x: number,
  y: number,
  { ink, panel }: Palette,
): void {
  ctx.lineWidth = 4
  ctx.lineJoin = 'round'
  ctx.strokeStyle = panel
  ctx.strokeText(text, x, y)
  ctx.fillStyle = ink
  ctx.fillText(text, x, y)
}

/** Breaks of the motion, notes at their points, and the texts of tangents. */
export function annotationsPlugin(drawing: () => { content: GraphContent; look: Look }): Plugin {
  return {
    id: 'annotations',
    afterDatasetsDraw(chart) {
      const { ctx, chartArea, scales } = chart
      const {
        content: { description, notes, tangents },
        look: { palette, type },
      } = drawing()
      ctx.save()
      ctx.strokeStyle = palette.ink
      ctx.lineWidth = 1.4
      ctx.setLineDash([2, 4])
      ctx.beginPath()
      for (const time of description.breaks) {
        const x = scales.x.getPixelForValue(time)
        if (x >= chartArea.left && x <= chartArea.right) drawUpright(chart, x)
      }
      ctx.stroke()
      ctx.setLineDash([])
      ctx.font = `${13 * type}px ${FONTS.text}`
      ctx.textBaseline = 'middle'
      for (const { x: atX, y: atY, text } of notes) {
        const [x, y] = [scales.x.getPixelForValue(atX), scales.y.getPixelForValue(atY)]
        const isLeft = x + ctx.measureText(text).width + 30 > chartArea.right
        const side = isLeft ? -1 : 1
        const rise = y - 22 < chartArea.top + 10 ? 22 : -22
        ctx.strokeStyle = palette.ink
        ctx.lineWidth = 1
        ctx.beginPath()
        ctx.moveTo(x + 5 * side, y + Math.sign(rise) * 5)
        ctx.lineTo(x + 16 * side, y + rise)
        ctx.stroke()
        ctx.textAlign = isLeft ? 'right' : 'left'
        writeOver(ctx, text, x + 19 * side, y + rise, palette)
      }
      ctx.font = `600 ${13 * type}px ${FONTS.text}`
      ctx.textAlign = 'center'
      ctx.textBaseline = 'alphabetic'
      for (const { from, to, text } of tangents) {
        const half = ctx.measureText(text).width / 2 + 4
        const [least, most] = [chartArea.left + half, chartArea.right - half]
        const x = scales.x.getPixelForValue((from.x + to.x) / 2)
        const y = scales.y.getPixelForValue((from.y + to.y) / 2)
        writeOver(
          ctx,
          text,
          least < most ? Math.min(most, Math.max(least, x)) : (chartArea.left + chartArea.right) / 2,
          // Above the line, or below it at the top of the graph.
          Math.min(chartArea.bottom - 6, y > chartArea.top + 44 ? y - 22 : y + 34),
          palette,
        )
      }
      ctx.restore()
    },
  }
}
