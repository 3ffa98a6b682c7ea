import type { AxisDescription } from '@apokinema/core/graphs'
import type { BodyShape } from '@apokinema/core/investigation'
import type { Chart, Plugin } from 'chart.js'
import type { Look } from '../../theme/look.ts'
import type { Palette } from '../../theme/palettes.ts'
import type { DrawnDescription, GraphContent } from './graphDrawing.ts'
import { drawMarker, type MarkerPaint, markerFill } from './markers.ts'
import { FONTS } from './plugins.ts'
import { seriesColour } from './seriesColour.ts'

/** A piece of a line of text. */
interface TextRun {
  text: string
  isItalic?: boolean
  /** Whether it is a subscript. */
  isSubscript?: boolean
}

const SUBSCRIPT = { drop: 0.22, size: 0.72 }

/** How a line of text is written: its size in pixels, its weight, its colour. */
interface LineStyle {
  size: number
  isBold?: boolean
  colour: string
}

const fontOf = ({ isItalic, isSubscript }: TextRun, { size, isBold }: LineStyle) =>
  `${isItalic || isSubscript ? 'italic ' : ''}${isBold ? '600 ' : ''}${isSubscript ? SUBSCRIPT.size * size : size}px ${FONTS.text}`

function runWidth(ctx: CanvasRenderingContext2D, run: TextRun, style: LineStyle): number {
  ctx.font = fontOf(run, style)
  return ctx.measureText(run.text).width
}

const runsWidth = (ctx: CanvasRenderingContext2D, runs: readonly TextRun[], style: LineStyle) =>
  runs.reduce((sum, run) => sum + runWidth(ctx, run, style), 0)

/** Writes runs of text on one line, rightwards from a point or leftwards (`end`). Returns where they begin. */
function writeRuns(
  ctx: CanvasRenderingContext2D,
  runs: readonly TextRun[],
  at: { x: number; y: number; anchor?: 'start' | 'end' },
  style: LineStyle,
): number {
  const begin = at.x - (at.anchor === 'end' ? runsWidth(ctx, runs, style) : 0)
  let left = begin
  ctx.textAlign = 'left'
  ctx.textBaseline = 'alphabetic'
  for (const run of runs) {
    const width = runWidth(ctx, run, style)
    ctx.fillStyle = style.colour
    ctx.fillText(run.text, left, at.y + (run.isSubscript ? SUBSCRIPT.drop * style.size : 0))
    left += width
  }
  return begin
}

function symbolRuns({ symbol, subscript }: { symbol: string; subscript: string }): TextRun[] {
  return [{ text: symbol, isItalic: true }, ...(subscript ? [{ text: subscript, isSubscript: true }] : [])]
}

/** Returns the text at an axis: symbol and unit, or its custom label. */
function axisRuns(axis: AxisDescription): TextRun[] {
  if (axis.label) return [{ text: axis.label }]
  const [before, behind] = axis.transform.around
  return [
    { text: before },
    ...symbolRuns(axis),
    { text: `${behind}${axis.unit ? ` in ${axis.unit}` : ''}` },
  ].filter(({ text }) => text !== '')
}

/** A line of a legend: a marker, or a stroke for an overlay, and what it stands for. */
interface LegendLine {
  marker: { shape: BodyShape; paint: MarkerPaint } | null
  runs: TextRun[]
}

/** Returns what the markers of a graph stand for. Symbols are left out where all series show the same quantity. */
function legendOf(
  series: DrawnDescription['series'],
  overlays: DrawnDescription['overlays'],
  names: GraphContent['names'],
  palette: Palette,
): LegendLine[] {
  const areAlike = new Set(series.map(({ quantity }) => quantity.id)).size === 1
  return [
    ...series.map((one) => {
      const colour = seriesColour(one, palette)
      const fill = markerFill(one.quantity.direction, colour, palette)
      const name = names[one.body] ?? ''
      return {
        marker: { shape: one.shape, paint: { stroke: colour, fill } },
        runs: areAlike ? [{ text: name }] : [{ text: `${name}, ` }, ...symbolRuns(one.quantity)],
      }
    }),
    ...overlays.map(({ name }) => ({ marker: null, runs: [{ text: name }] })),
  ]
}

/** Height of a line of a legend, space for its marker, and size of its text, in pixels. */
const LEGEND = { line: 16, marker: 16, text: 13 }

/**
 * Draws a legend; nothing for a single line. It stands at the upper right, or at the upper left if fewer points lie there. Lines for
 * which there is no room are counted.
 */
function drawLegend(
  { ctx, chartArea, scales }: Chart,
  legend: readonly LegendLine[],
  series: DrawnDescription['series'],
  { ink, inkMuted }: Palette,
): void {
  if (legend.length < 2) return
  const { left, right, top, bottom } = chartArea
  const room = Math.max(1, Math.floor((bottom - top) / LEGEND.line))
  const rest = legend.length > room ? legend.length - room + 1 : 0
  const lines: LegendLine[] = [
    ...legend.slice(0, legend.length - rest),
    ...(rest > 0 ? [{ marker: null, runs: [{ text: `and ${rest} more` }] }] : []),
  ]
  const style = { size: LEGEND.text, colour: ink }
  const width = LEGEND.marker + Math.max(...lines.map(({ runs }) => runsWidth(ctx, runs, style)))
  // On the left stand the title and the name of the axis above it.
  const [firstAtRight, firstAtLeft] = [20, top + 14]
  const pointsBehind = (from: number, first: number) => {
    const [until, lowest] = [from + width, first + (lines.length - 1) * LEGEND.line + 6]
    return series.reduce((sum, { points }) => {
      const behind = points.filter(({ x, y }) => {
        const [across, down] = [scales.x.getPixelForValue(x), scales.y.getPixelForValue(y)]
        return across > from && across < until && down < lowest
      })
      return sum + behind.length
    }, 0)
  }
  const isLeft = pointsBehind(left, firstAtLeft) < pointsBehind(right - width, firstAtRight)
  lines.forEach(({ marker, runs }, i) => {
    const y = (isLeft ? firstAtLeft : firstAtRight) + LEGEND.line * i
    const begin = isLeft
      ? writeRuns(ctx, runs, { x: left + 8 + LEGEND.marker, y }, style)
      : writeRuns(ctx, runs, { x: right, y, anchor: 'end' }, style)
    const at = { x: begin - LEGEND.marker / 2, y: y - 4.5 }
    if (marker) drawMarker(ctx, marker.shape, marker.paint, at, 0.8)
    else if (i < legend.length - rest) {
      ctx.strokeStyle = inkMuted
      ctx.lineWidth = 1.5
      ctx.beginPath()
      ctx.moveTo(at.x - 5, at.y)
      ctx.lineTo(at.x + 5, at.y)
      ctx.stroke()
    }
  })
}

/** Space for the captions above and below a graph, in pixels. */
export const CAPTIONS = { top: 46, bottom: 20 }

/**
 * Returns a plugin that draws in pictures what the screen has in HTML around a graph: title, names of the axes, a legend if
 * there is more than one series, and the background.
 *
 * @param ground background colour; null for none
 */
export function captionsPlugin(
  { description, names }: GraphContent,
  { palette }: Look,
  ground: string | null,
): Plugin {
  return {
    id: 'captions',
    beforeDraw({ ctx, width, height }) {
      if (ground === null) return
      ctx.save()
      ctx.fillStyle = ground
      ctx.fillRect(0, 0, width, height)
      ctx.restore()
    },
    afterDraw(chart) {
      const { ctx, chartArea, height } = chart
      const { title, x: xAxis, y: yAxis, series, overlays } = description
      const muted = { size: 13, colour: palette.inkMuted }
      ctx.save()
      const heading = { size: 16, isBold: true, colour: palette.ink }
      writeRuns(ctx, [{ text: title }], { x: chartArea.left, y: 20 }, heading)
      writeRuns(ctx, axisRuns(yAxis), { x: chartArea.left, y: 37 }, muted)
      writeRuns(ctx, axisRuns(xAxis), { x: chartArea.right, y: height - 8, anchor: 'end' }, muted)
      drawLegend(chart, legendOf(series, overlays, names, palette), series, palette)
      ctx.restore()
    },
  }
}
