import { analyse } from '@apokinema/core/analysis'
import type { Body } from '@apokinema/core/investigation'
import type { MotionTable } from '@apokinema/core/motion'
import { significant } from '@apokinema/core/units'
import { memo } from 'react'
import { useInvestigation } from '../../document/SessionContext.tsx'
import type { Look } from '../../theme/look.ts'
import { BODY_PAINT, type Palette } from '../../theme/palettes.ts'
import { MARKER_PATHS } from '../Marker.tsx'
import { useCanvas } from '../useCanvas.ts'
import type { TimeScale } from './timeScale.ts'

export const LIVE_HEIGHT = 76
const MARGIN = 9
/** Left edge of the labels: beside the line at the beginning of a span that covers everything. */
const LABEL_LEFT = 18

/** Returns the least and largest of x and y in a table, and 0. */
function rangeOf(table: MotionTable): { low: number; high: number } {
  let [low, high] = [0, Number.NEGATIVE_INFINITY]
  for (const component of ['x', 'y']) {
    const { values } = table.column(component)
    const [least, most] = extremes(values, { from: 0, to: values.length })
    low = Math.min(low, least)
    high = Math.max(high, most)
  }
  return { low, high: Math.max(high, low + 1e-9) }
}

/** Points per pixel above which only their range is drawn. */
const MOST_PER_PIXEL = 3

/** A range of rows: `to` is excluded. */
interface Rows {
  from: number
  to: number
}

/** Returns the rows of a table within a scale, with one more on either side. */
function shownRows({ times }: MotionTable, scale: TimeScale): Rows {
  let [from, to] = [0, times.length]
  while (from + 1 < to && scale.x(times[from + 1]) < 0) from++
  while (to - 1 > from && scale.x(times[to - 2]) > scale.width) to--
  return { from, to }
}

/** Returns the rows at each pixel of a scale. */
function rowsByPixel({ times }: MotionTable, scale: TimeScale, { from, to }: Rows): Map<number, Rows> {
  const byPixel = new Map<number, Rows>()
  for (let row = from; row < to; row++) {
    const pixel = Math.round(scale.x(times[row]))
    const known = byPixel.get(pixel)
    if (known) known.to = row + 1
    else byPixel.set(pixel, { from: row, to: row + 1 })
  }
  return byPixel
}

/** Returns the least and the largest of some rows' values. */
function extremes(values: ArrayLike<number>, { from, to }: Rows): [number, number] {
  let [low, high] = [values[from], values[from]]
  for (let row = from + 1; row < to; row++) {
    low = Math.min(low, values[row])
    high = Math.max(high, values[row])
  }
  return [low, high]
}

/** Draws x filled and y hollow: a marker per point, or the range on each pixel where points would overlap. */
function drawSeries(
  context: CanvasRenderingContext2D,
  table: MotionTable,
  { colour, shape }: Pick<Body, 'colour' | 'shape'>,
  scale: TimeScale,
  y: (value: number) => number,
  palette: Palette,
): void {
  const rows = shownRows(table, scale)
  const byPixel = rows.to - rows.from > MOST_PER_PIXEL * scale.width ? rowsByPixel(table, scale, rows) : null
  const size = Math.max(1.5, Math.min(3.4, (scale.width / table.frames.length) * 0.12))
  const marker = new Path2D(MARKER_PATHS[shape])
  context.strokeStyle = BODY_PAINT[colour]
  for (const component of ['x', 'y']) {
    const { values } = table.column(component)
    context.fillStyle = component === 'x' ? BODY_PAINT[colour] : palette.panel
    if (byPixel) {
      context.fillStyle = context.strokeStyle
      context.globalAlpha = component === 'x' ? 1 : 0.45
      for (const [pixel, own] of byPixel) {
        const [lowest, highest] = extremes(values, own)
        context.fillRect(pixel - 0.5, y(highest) - 0.75, 1, y(lowest) - y(highest) + 1.5)
      }
      context.globalAlpha = 1
      continue
    }
    for (let row = rows.from; row < rows.to; row++) {
      context.save()
      context.translate(scale.x(table.times[row]), y(values[row]))
      context.scale(size, size)
      context.lineWidth = 1.4 / size
      context.fill(marker)
      context.stroke(marker)
      context.restore()
    }
  }
}

/** Draws the position over time with its zero line and its limits. */
function drawPosition(
  context: CanvasRenderingContext2D,
  table: MotionTable,
  body: Pick<Body, 'colour' | 'shape'>,
  scale: TimeScale,
  { palette, type }: Look,
): void {
  const { low, high } = rangeOf(table)
  const y = (value: number) =>
    LIVE_HEIGHT - MARGIN - ((value - low) / (high - low)) * (LIVE_HEIGHT - 2 * MARGIN)
  context.strokeStyle = palette.line
  context.lineWidth = 1
  context.setLineDash([4, 4])
  context.beginPath()
  context.moveTo(0, y(0))
  context.lineTo(scale.width, y(0))
  context.stroke()
  context.setLineDash([])
  drawSeries(context, table, body, scale, y, palette)
  // Above the points, with a rim, so that they can be read.
  context.font = `${11 * type}px 'JetBrains Mono Variable'`
  context.fillStyle = palette.inkMuted
  context.strokeStyle = palette.panel
  context.lineWidth = 3
  for (const value of [low, high]) {
    context.strokeText(significant(value, 2), LABEL_LEFT, y(value) + 4)
    context.fillText(significant(value, 2), LABEL_LEFT, y(value) + 4)
  }
}

function drawHint(context: CanvasRenderingContext2D, scale: TimeScale, { palette, type }: Look): void {
  context.fillStyle = palette.inkMuted
  context.font = `${13 * type}px ${getComputedStyle(context.canvas).fontFamily}`
  context.fillText('Marks appear here as soon as there are some.', scale.x(0) + 10, LIVE_HEIGHT / 2 + 4)
}

/** x and y of the active body, aligned with the frames above: x filled, y hollow. */
export const LiveGraph = memo(function LiveGraph({
  body,
  scale,
  top,
}: {
  body: string | null
  scale: TimeScale
  top: number
}) {
  const investigation = useInvestigation()
  const table = body ? analyse(investigation).shownTable(body) : null
  const shown = body ? investigation.bodies[body] : null
  const canvas = useCanvas(
    { width: scale.width, height: LIVE_HEIGHT },
    (context, density, look) => {
      context.scale(density, density)
      if (!shown) return
      if (table && table.frames.length > 0) drawPosition(context, table, shown, scale, look)
      else drawHint(context, scale, look)
    },
    [table, shown?.colour, shown?.shape, scale],
  )
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label="Position against time"
      style={{ position: 'absolute', left: 0, top, width: scale.width, height: LIVE_HEIGHT }}
    />
  )
})
