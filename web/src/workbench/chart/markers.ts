import type { Plotted } from '@apokinema/core/graphs'
import type { BodyShape } from '@apokinema/core/investigation'
import type { QuantityInfo } from '@apokinema/core/motion'
import type { Palette } from '../../theme/palettes.ts'
import { stampOf } from '../stamps.ts'
import type { PixelScales } from './pixelScale.ts'

/** Half the width of a marker at its usual size, in pixels. */
const RADIUS = 4.2
/** Width of a marker's rim, in pixels. */
const RIM = 2
/** Largest extent of a marker with its rim beyond its point, in pixels. */
export const MARKER_REACH = 8
/** Numbers of points from which markers become small dots, and smaller ones: larger ones would overlap. */
const DENSE = { points: 600, radius: 2.4 }
const DENSER = { points: 4000, radius: 1.5 }
/** Width of a dot's rim, in pixels. */
const DOT_RIM = 1.2

/** Colours of a marker. */
export interface MarkerPaint {
  stroke: string
  fill: string
}

/** Dash patterns of the components: x solid, y dashed, size dotted. */
export const DASHES: Readonly<Record<QuantityInfo['direction'], readonly number[]>> = {
  x: [],
  y: [7, 4],
  size: [2, 3],
}

/** Returns the fill of the markers of a component: x is filled, y hollow, size in between. */
export function markerFill(
  direction: QuantityInfo['direction'],
  colour: string,
  { panel, halfFilled }: Palette,
): string {
  return direction === 'x' ? colour : direction === 'y' ? panel : halfFilled
}

type PathContext = Pick<CanvasRenderingContext2D, 'moveTo' | 'lineTo' | 'arc' | 'closePath'>

/** Adds the outline of a body's marker around a point to a context's path. */
function traceMarker(context: PathContext, shape: BodyShape, x: number, y: number, scale: number): void {
  const r = RADIUS * scale
  const lines = (...places: [number, number][]) => {
    places.forEach(([dx, dy], i) => {
      if (i === 0) context.moveTo(x + dx, y + dy)
      else context.lineTo(x + dx, y + dy)
    })
  }
  switch (shape) {
    case 'circle':
      context.moveTo(x + r, y)
      context.arc(x, y, r, 0, 2 * Math.PI)
      context.closePath()
      return
    case 'square':
      lines([-0.9 * r, -0.9 * r], [0.9 * r, -0.9 * r], [0.9 * r, 0.9 * r], [-0.9 * r, 0.9 * r])
      context.closePath()
      return
    case 'diamond':
      lines([0, -1.2 * r], [1.2 * r, 0], [0, 1.2 * r], [-1.2 * r, 0])
      context.closePath()
      return
    case 'triangle':
      lines([0, -r], [r, 0.8 * r], [-r, 0.8 * r])
      context.closePath()
      return
    case 'cross':
      lines([-r, 0], [r, 0])
      lines([0, -r], [0, r])
      return
    case 'star':
      for (const turn of [0, Math.PI / 3, (2 * Math.PI) / 3]) {
        const [dx, dy] = [r * Math.cos(turn), r * Math.sin(turn)]
        lines([-dx, -dy], [dx, dy])
      }
  }
}

/** Draws one marker around a point, as a path. */
export function drawMarker(
  context: CanvasRenderingContext2D,
  shape: BodyShape,
  { stroke, fill }: MarkerPaint,
  at: { x: number; y: number },
  scale = 1,
): void {
  context.fillStyle = fill
  context.strokeStyle = stroke
  context.lineWidth = RIM * scale
  context.beginPath()
  traceMarker(context, shape, at.x, at.y, scale)
  context.fill()
  context.stroke()
}

/** Returns a marker as a sprite, at twice the screen's resolution. */
const markerSprite = (shape: BodyShape, paint: MarkerPaint, scale: number) =>
  stampOf(`marker ${shape} ${paint.stroke} ${paint.fill} ${scale}`, MARKER_REACH * scale, (context) =>
    drawMarker(context, shape, paint, { x: 0, y: 0 }, scale),
  )

/** Points drawn as markers, each with one of some paints. */
export interface MarkerRun<Group extends string> {
  points: readonly Plotted[]
  shape: BodyShape
  /** Size as a multiple of the usual one. */
  scale: number
  paints: Readonly<Record<Group, MarkerPaint>>
  groupOf: (point: Plotted) => Group
}

/**
 * Draws markers as cached sprites (on the screen), or as paths, which are sharp at every size.
 * Thousands of points become dots.
 */
export function drawMarkers<Group extends string>(
  context: CanvasRenderingContext2D,
  run: MarkerRun<Group>,
  scales: PixelScales,
  sprites: boolean,
): void {
  const isDense = run.points.length > DENSE.points
  if (isDense && sprites) drawDotRaster(context, run, scales)
  else if (isDense) drawDots(context, run, scales)
  else if (sprites)
    for (const point of run.points) {
      const sprite = markerSprite(run.shape, run.paints[run.groupOf(point)], run.scale)
      const reach = MARKER_REACH * run.scale
      const [x, y] = [scales.left(point.x) - reach, scales.top(point.y) - reach]
      context.drawImage(sprite, x, y, 2 * reach, 2 * reach)
    }
  else
    for (const point of run.points)
      drawMarker(
        context,
        run.shape,
        run.paints[run.groupOf(point)],
        { x: scales.left(point.x), y: scales.top(point.y) },
        run.scale,
      )
}

const dotRadius = ({ points: { length }, scale }: MarkerRun<string>) =>
  scale * (length > DENSER.points ? DENSER.radius : DENSE.radius)

/** Draws dots as paths, one path per paint. */
function drawDots<Group extends string>(
  context: CanvasRenderingContext2D,
  run: MarkerRun<Group>,
  scales: PixelScales,
): void {
  const { points, paints, groupOf } = run
  const radius = dotRadius(run) - DOT_RIM / 2
  for (const group of Object.keys(paints) as Group[]) {
    const own = points.filter((point) => groupOf(point) === group)
    if (own.length === 0) continue
    context.fillStyle = paints[group].fill
    context.strokeStyle = paints[group].stroke
    context.lineWidth = DOT_RIM
    context.beginPath()
    for (const point of own) {
      const [x, y] = [scales.left(point.x), scales.top(point.y)]
      context.moveTo(x + radius, y)
      context.arc(x, y, radius, 0, 2 * Math.PI)
      context.closePath()
    }
    context.fill()
    context.stroke()
  }
}

/** An image into which dots are written pixel by pixel, to be drawn at once. */
let raster: HTMLCanvasElement | null = null
let dotted: ImageData | null = null

/** Draws dots pixel by pixel, which is far faster than a path per dot. */
function drawDotRaster<Group extends string>(
  target: CanvasRenderingContext2D,
  run: MarkerRun<Group>,
  scales: PixelScales,
): void {
  const { points, paints, groupOf } = run
  const { width, height } = target.canvas
  const density = width / target.canvas.clientWidth || 1
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
    Object.entries<MarkerPaint>(paints).map(([group, { stroke, fill }]) => [
      group,
      { rim: pixelColour(context, stroke), core: pixelColour(context, fill) },
    ]),
  ) as Record<Group, { rim: number; core: number }>
  const radius = dotRadius(run) * density
  const dots = dotsWithin(radius)
  const offsets = Int32Array.from(dots, ({ dx, dy }) => dy * width + dx)
  const isCore = Uint8Array.from(dots, ({ dx, dy }) =>
    Math.hypot(dx, dy) < radius - DOT_RIM * density ? 1 : 0,
  )
  const edge = Math.ceil(radius) + 1
  const { xs, ys } = placesOf(points, scales)
  const { x, y } = scales
  for (let k = 0; k < xs.length; k++) {
    const column = Math.round((x.zero + x.each * xs[k]) * density)
    const row = Math.round((y.zero + y.each * ys[k]) * density)
    if (!(column >= edge && row >= edge && column < width - edge && row < height - edge)) continue
    const at = row * width + column
    const { rim, core } = colours[groupOf(points[k])]
    for (let dot = 0; dot < offsets.length; dot++) pixels[at + offsets[dot]] = isCore[dot] === 1 ? core : rim
  }
  context.putImageData(dotted, 0, 0)
  target.drawImage(raster, 0, 0, width / density, height / density)
}

/** Values of many points in arrays, as logarithms on a logarithmic scale: fast to iterate over repeatedly. */
const placed = new WeakMap<readonly Plotted[], { key: string; xs: Float64Array; ys: Float64Array }>()

function placesOf(points: readonly Plotted[], { x, y }: PixelScales): { xs: Float64Array; ys: Float64Array } {
  const key = `${x.isLog} ${y.isLog}`
  const known = placed.get(points)
  if (known?.key === key) return known
  const made = {
    key,
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

const knownColours = new Map<string, number>()

/** Returns a colour as a pixel of an image. */
function pixelColour(context: CanvasRenderingContext2D, colour: string): number {
  const ready = knownColours.get(colour)
  if (ready !== undefined) return ready
  context.clearRect(0, 0, 1, 1)
  context.fillStyle = colour
  context.fillRect(0, 0, 1, 1)
  const [found] = new Uint32Array(context.getImageData(0, 0, 1, 1).data.buffer)
  knownColours.set(colour, found)
  return found
}
