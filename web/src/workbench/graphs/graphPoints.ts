import {
  DASHES,
  type GraphDescription,
  MARKER_RADIUS,
  markerFill,
  markerPath,
  type Plotted,
  piecesOf,
  type SeriesDescription,
} from '@apokinema/core/graphs'
import type { BodyShape, Graph } from '@apokinema/core/investigation'
import type { Chart, Scale } from 'chart.js'
import { BODY_PAINT, PAINT } from '../../theme/system.ts'
import { curveOf } from '../fits/curveOf.ts'
import type { ShownFit } from '../fits/fits.ts'
import { stampOf } from '../stamps.ts'

/** Where a fitted curve lies with a confidence of 95 %. */
const BAND_PAINT = 'rgba(30,37,38,0.14)'
/** What comes from elsewhere has no body's colour. */
const OVERLAY = '#8C8879'
/** From so many points on markers are small dots, and smaller ones from more on: larger ones would lie on each other. */
const DENSE = { points: 600, radius: 2.4 }
const DENSER = { points: 4000, radius: 1.5 }

/** What of a graph is drawn, and how strongly. */
export interface PointsState {
  description: GraphDescription
  graph: Graph
  fits: ShownFit[]
  /** Fits with the band in which further points would lie. */
  banded: ReadonlySet<string>
  /** Whether a frame is among those that are looked at; null: all are, since nobody has chosen any. */
  isIn: ((frame: number) => boolean) | null
  /** Null: none is. */
  isStray: ((frame: number) => boolean) | null
  /** Later frames are not drawn: the film plays. */
  until: number
}

/** Colour of a series: that of its body, or ink for all bodies together. */
export function paintOf({ colour }: Pick<SeriesDescription, 'colour'>): string {
  return colour ? BODY_PAINT[colour].mark : PAINT.ink
}

type Pixel = { x: number; y: number }

/** So many bands are drawn in full. */
const FEW_BANDS = 3

/**
 * Draws the points, lines and curves of a graph. There can be ten thousand of them.
 */
export function drawPoints(
  chart: Chart,
  { description, graph, fits, banded, ...emphasis }: PointsState,
): void {
  const { ctx, chartArea, scales } = chart
  const ways = { x: wayOf(scales.x), y: wayOf(scales.y) }
  const pixelOf = ({ x, y }: Pixel): Pixel => ({ x: pixelAlong(ways.x, x), y: pixelAlong(ways.y, y) })
  ctx.save()
  ctx.beginPath()
  // Markers at the rim are drawn whole.
  const rim = MARKER_RADIUS + 2
  ctx.rect(chartArea.left - rim, chartArea.top - rim, chartArea.width + 2 * rim, chartArea.height + 2 * rim)
  ctx.clip()
  for (const { points } of description.overlays) strokeLine(ctx, points.map(pixelOf), OVERLAY, 1.6, [])
  for (const series of [...description.series].reverse())
    drawSeries(ctx, series, graph, emphasis, ways, pixelOf)
  for (const { id, fit } of fits) {
    if (!fit) continue
    const { points, band, predicted } = curveOf(fit)
    if (band.length > 0) {
      ctx.beginPath()
      const rim = [
        ...band.map(({ x, high }) => pixelOf({ x, y: high })),
        ...[...band].reverse().map(({ x, low }) => pixelOf({ x, y: low })),
      ]
      for (const { x, y } of rim) ctx.lineTo(x, y)
      ctx.closePath()
      ctx.fillStyle = BAND_PAINT
      // Bands of many fits over each other would hide the points.
      ctx.globalAlpha = Math.min(1, FEW_BANDS / fits.length)
      ctx.fill()
      ctx.globalAlpha = 1
    }
    if (banded.has(id))
      for (const side of ['low', 'high'] as const)
        strokeLine(
          ctx,
          predicted().map((place) => pixelOf({ x: place.x, y: place[side] })),
          PAINT.inkMuted,
          1,
          [3, 4],
        )
    const curve = points.map(pixelOf)
    strokeLine(ctx, curve, PAINT.ink, 1.6, [])
  }
  ctx.restore()
}

/** Where values lie along a direction: the scale's own answer, worked out once for all points. */
interface Way {
  isLog: boolean
  /** Pixel of the value (or logarithm) 0, and pixels for each 1. */
  zero: number
  each: number
}

function wayOf(scale: Scale): Way {
  const isLog = scale.type === 'logarithmic'
  const [from, to] = isLog ? [Math.log(scale.min), Math.log(scale.max)] : [scale.min, scale.max]
  const first = scale.getPixelForValue(scale.min)
  const each = (scale.getPixelForValue(scale.max) - first) / (to - from)
  return { isLog, zero: first - from * each, each }
}

const pixelAlong = ({ isLog, zero, each }: Way, value: number) =>
  zero + each * (isLog ? Math.log(value) : value)

function drawSeries(
  ctx: CanvasRenderingContext2D,
  series: SeriesDescription,
  { look }: Graph,
  { isIn, isStray, until }: Pick<PointsState, 'isIn' | 'isStray' | 'until'>,
  ways: { x: Way; y: Way },
  pixelOf: (point: Pixel) => Pixel,
): void {
  const colour = paintOf(series)
  const { direction } = series.quantity
  const points =
    until === Number.POSITIVE_INFINITY ? series.points : series.points.filter(({ frame }) => frame <= until)
  if (look !== 'points')
    for (const piece of piecesOf(series, points))
      strokeLine(ctx, piece.map(pixelOf), colour, 1.6, DASHES[direction])
  if (look === 'line') return
  // Null: all are plain, as those of every series but the graph's own are.
  const groupOf =
    series.id === null && (isIn || isStray)
      ? ({ frame }: Plotted): Group => (isStray?.(frame) ? 'stray' : isIn && !isIn(frame) ? 'faded' : 'plain')
      : null
  const faded = `${colour}59`
  const fillOf = (own: string) => markerFill(direction, own)
  const paints: Record<Group, { stroke: string; fill: string }> = {
    plain: { stroke: colour, fill: fillOf(colour) },
    faded: { stroke: faded, fill: fillOf(faded) },
    stray: { stroke: PAINT.alarm, fill: fillOf(colour) },
  }
  if (points.length > DENSE.points) {
    drawDense(ctx, points, ways, groupOf, paints)
    return
  }
  for (const point of points) {
    const { x, y } = pixelOf(point)
    const { stroke, fill } = paints[groupOf?.(point) ?? 'plain']
    ctx.drawImage(markerStamp(series.shape, stroke, fill), x - STAMP, y - STAMP, 2 * STAMP, 2 * STAMP)
  }
}

type Group = 'plain' | 'faded' | 'stray'

/** A picture that dense points are set in, dot by dot, and then laid down at once. */
let raster: HTMLCanvasElement | null = null
let dotted: ImageData | null = null

/** Draws thousands of points as small dots: pixel by pixel, which is far quicker than a shape for each. */
function drawDense(
  ctx: CanvasRenderingContext2D,
  points: Plotted[],
  ways: { x: Way; y: Way },
  /** Null: all are plain. */
  groupOf: ((point: Plotted) => Group) | null,
  paints: Record<Group, { stroke: string; fill: string }>,
): void {
  const { width, height } = ctx.canvas
  const fine = width / ctx.canvas.clientWidth || 1
  raster ??= document.createElement('canvas')
  const context = raster.getContext('2d', { willReadFrequently: true })!
  if (!dotted || dotted.width !== width || dotted.height !== height) {
    raster.width = width
    raster.height = height
    dotted = context.createImageData(width, height)
  }
  const pixels = new Uint32Array(dotted.data.buffer)
  pixels.fill(0)
  const colours = Object.fromEntries(
    Object.entries(paints).map(([group, { stroke, fill }]) => [
      group,
      { rim: pixelColour(context, stroke), core: pixelColour(context, fill) },
    ]),
  ) as Record<Group, { rim: number; core: number }>
  const radius = (points.length > DENSER.points ? DENSER.radius : DENSE.radius) * fine
  const dots = dotsWithin(radius)
  const offsets = Int32Array.from(dots, ({ dx, dy }) => dy * width + dx)
  const isCore = Uint8Array.from(dots, ({ dx, dy }) => (Math.hypot(dx, dy) < radius - 1.2 * fine ? 1 : 0))
  const edge = Math.ceil(radius) + 1
  const { xs, ys } = placesOf(points, ways)
  const [zeroX, eachX, zeroY, eachY] = [ways.x.zero, ways.x.each, ways.y.zero, ways.y.each]
  let { rim, core } = colours.plain
  for (let k = 0; k < xs.length; k++) {
    const column = Math.round((zeroX + eachX * xs[k]) * fine)
    const row = Math.round((zeroY + eachY * ys[k]) * fine)
    if (!(column >= edge && row >= edge && column < width - edge && row < height - edge)) continue
    const at = row * width + column
    if (groupOf) ({ rim, core } = colours[groupOf(points[k])])
    for (let dot = 0; dot < offsets.length; dot++) pixels[at + offsets[dot]] = isCore[dot] === 1 ? core : rim
  }
  context.putImageData(dotted, 0, 0)
  ctx.drawImage(raster, 0, 0, width / fine, height / fine)
}

/** Values of many points side by side, logarithms where the scale is one: quick to go through again and again. */
const placed = new WeakMap<Plotted[], { ways: string; xs: Float64Array; ys: Float64Array }>()

function placesOf(points: Plotted[], { x, y }: { x: Way; y: Way }): { xs: Float64Array; ys: Float64Array } {
  const ways = `${x.isLog} ${y.isLog}`
  const known = placed.get(points)
  if (known?.ways === ways) return known
  const made = {
    ways,
    xs: Float64Array.from(points, (point) => (x.isLog ? Math.log(point.x) : point.x)),
    ys: Float64Array.from(points, (point) => (y.isLog ? Math.log(point.y) : point.y)),
  }
  placed.set(points, made)
  return made
}

function dotsWithin(radius: number): { dx: number; dy: number }[] {
  const reach = Math.ceil(radius)
  const side = Array.from({ length: 2 * reach + 1 }, (_, i) => i - reach)
  return side.flatMap((dy) => side.flatMap((dx) => (Math.hypot(dx, dy) <= radius ? [{ dx, dy }] : [])))
}

const known = new Map<string, number>()

/** A colour as it stands in a picture's memory. */
function pixelColour(context: CanvasRenderingContext2D, colour: string): number {
  const ready = known.get(colour)
  if (ready !== undefined) return ready
  context.clearRect(0, 0, 1, 1)
  context.fillStyle = colour
  context.fillRect(0, 0, 1, 1)
  const [found] = new Uint32Array(context.getImageData(0, 0, 1, 1).data.buffer)
  known.set(colour, found)
  return found
}

/** Half the width of a marker with its rim, in pixels. */
const STAMP = 8

/** A marker as a small picture. */
const markerStamp = (shape: BodyShape, stroke: string, fill: string) =>
  stampOf(`marker ${shape} ${stroke} ${fill}`, STAMP, (context) => {
    const path = new Path2D(markerPath(shape, 0, 0))
    context.fillStyle = fill
    context.strokeStyle = stroke
    context.lineWidth = 2
    context.fill(path)
    context.stroke(path)
  })

function strokeLine(
  ctx: CanvasRenderingContext2D,
  points: Pixel[],
  colour: string,
  width: number,
  dash: readonly number[],
): void {
  ctx.strokeStyle = colour
  ctx.lineWidth = width
  ctx.setLineDash([...dash])
  ctx.beginPath()
  points.forEach(({ x, y }, i) => {
    if (i === 0) ctx.moveTo(x, y)
    else ctx.lineTo(x, y)
  })
  ctx.stroke()
  ctx.setLineDash([])
}
