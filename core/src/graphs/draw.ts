import type { MarkStyle } from '../investigation/index.ts'
import type { AxisDescription, GraphDescription, SeriesDescription } from './describe.ts'
import type { Limits } from './limits.ts'
import { DASHES, inPath, markerFill, markerPath, piecesOf } from './marks.ts'
import { ticksOf } from './ticks.ts'

/** A piece of a line of words. */
export interface Run {
  text: string
  italic?: boolean
  /** Whether it stands below the line, smaller. */
  below?: boolean
  colour?: string
}

/** How a path is drawn. */
export interface Stroke {
  stroke: string
  width: number
  dash?: readonly number[]
  fill?: string
}

/** How words are set. */
export interface Setting {
  font: string
  size: number
  bold?: boolean
  colour: string
  anchor: 'start' | 'middle' | 'end'
}

/** What a graph is drawn with: as SVG, or on a canvas. Paths are in SVG's own notation. */
export interface Pen {
  ground(colour: string): void
  path(path: string, stroke: Stroke): void
  words(x: number, y: number, runs: readonly Run[], setting: Setting): void
  /** Draws within a rectangle only. */
  within(x: number, y: number, width: number, height: number, draw: () => void): void
}

/** What a graph is drawn with, whatever draws it. */
export interface GraphStyle {
  /** Pixels. */
  width: number
  height: number
  /** Colour of each body's points, by the body's colour; of all bodies together; of words, of lines, of the ground. */
  colours: Readonly<Record<string, string>>
  ink: string
  muted: string
  line: string
  /** Null: nothing behind it. */
  ground: string | null
  /** Families of type, for words and for numbers. */
  words: string
  numbers: string
  grid: boolean
  look: MarkStyle
  errorBars: boolean
}

/** A curve over a graph, by its places: a fitted motion. */
export type GraphCurve = readonly { x: number; y: number }[]

/** Words at a point. */
export interface GraphWords {
  x: number
  y: number
  text: string
}

/** What stands on a graph beside its points. */
export interface GraphExtras {
  curves: readonly GraphCurve[]
  notes: readonly GraphWords[]
  /** Names of bodies, by id. */
  names: Readonly<Record<string, string>>
}

const MARGIN = { left: 70, right: 22, top: 46, bottom: 46 }
const CAP = 3.5

/** Where the points of a graph lie in its picture. */
export function layoutOf(
  { across, up }: Pick<GraphDescription, 'across' | 'up'>,
  limits: { across: Limits; up: Limits },
  { width, height }: Pick<GraphStyle, 'width' | 'height'>,
): {
  x: (value: number) => number
  y: (value: number) => number
  left: number
  right: number
  top: number
  bottom: number
} {
  const [left, right] = [MARGIN.left, width - MARGIN.right]
  const [top, bottom] = [MARGIN.top, height - MARGIN.bottom]
  const share = ({ log }: AxisDescription, { from, to }: Limits, value: number) =>
    log ? (Math.log(value) - Math.log(from)) / (Math.log(to) - Math.log(from)) : (value - from) / (to - from)
  return {
    left,
    right,
    top,
    bottom,
    x: (value) => left + share(across, limits.across, value) * (right - left),
    y: (value) => bottom - share(up, limits.up, value) * (bottom - top),
  }
}

/**
 * Draws a graph, at any size: title, axes with their units, points with their errors, lines, fitted curves, notes, and
 * a legend where there is more than one thing on it.
 *
 * @param names of the bodies, by id
 */
export function drawGraph(
  pen: Pen,
  description: GraphDescription,
  limits: { across: Limits; up: Limits },
  { curves, notes, names }: GraphExtras,
  style: GraphStyle,
): void {
  const { height, ink, muted, line, ground } = style
  const { across, up, series, isTime, breaks } = description
  const at = layoutOf(description, limits, style)
  const words = { font: style.words, size: 13, colour: muted, anchor: 'start' } as const
  const number = { font: style.numbers, size: 12, colour: muted } as const
  const rule = (
    x1: number,
    y1: number,
    x2: number,
    y2: number,
    stroke: string,
    dash: readonly number[] = [],
  ) => pen.path(`M${inPath(x1)} ${inPath(y1)}L${inPath(x2)} ${inPath(y2)}`, { stroke, width: 1, dash })
  const told = (value: number) => [{ text: String(Number(value.toPrecision(6))).replace('-', '−') }]
  if (ground !== null) pen.ground(ground)
  pen.words(MARGIN.left, 20, [{ text: description.title }], { ...words, size: 16, bold: true, colour: ink })
  pen.words(MARGIN.left, 37, axisRuns(up), words)
  pen.words(at.right, height - 8, axisRuns(across), { ...words, anchor: 'end' })
  for (const tick of ticksOf(limits.across, across.log, Math.max(3, Math.round((at.right - at.left) / 90)))) {
    if (style.grid && !isTime) rule(at.x(tick), at.top, at.x(tick), at.bottom, line)
    pen.words(at.x(tick), at.bottom + 17, told(tick), { ...number, anchor: 'middle' })
  }
  for (const tick of ticksOf(limits.up, up.log, Math.max(3, Math.round((at.bottom - at.top) / 55)))) {
    if (style.grid) rule(at.left, at.y(tick), at.right, at.y(tick), line)
    pen.words(at.left - 8, at.y(tick) + 4, told(tick), { ...number, anchor: 'end' })
  }
  rule(at.left, at.bottom, at.right, at.bottom, muted)
  rule(at.left, at.top, at.left, at.bottom, muted)
  pen.within(at.left, at.top, at.right - at.left, at.bottom - at.top, () => {
    for (const time of breaks) rule(at.x(time), at.top, at.x(time), at.bottom, ink, [2, 4])
    for (const { points } of description.overlays) {
      const path = points.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${inPath(at.x(x))} ${inPath(at.y(y))}`)
      pen.path(path.join(''), { stroke: muted, width: 1.4 })
    }
    for (const one of [...series].reverse()) drawSeries(pen, one, at, style)
    for (const curve of curves) pen.path(curvePath(curve, at), { stroke: ink, width: 1.6 })
  })
  for (const { x, y, text } of notes)
    pen.words(at.x(x) + 12, at.y(y) - 14, [{ text }], { ...words, colour: ink })
  const legend: Run[][] = [
    ...series.map((one) => [
      { text: '● ', colour: colourOf(one, style) },
      { text: `${names[one.body] ?? ''}, ` },
      ...symbolRuns(one.quantity),
    ]),
    ...description.overlays.map(({ name }) => [{ text: '— ', colour: muted }, { text: name }]),
  ]
  if (legend.length > 1)
    legend.forEach((runs, i) => {
      pen.words(at.right, 20 + 16 * i, runs, { ...words, colour: ink, anchor: 'end' })
    })
}

function symbolRuns({ symbol, subscript }: { symbol: string; subscript: string }): Run[] {
  return [{ text: symbol, italic: true }, ...(subscript ? [{ text: subscript, below: true }] : [])]
}

/** What stands at an axis: symbol and unit, or the words that somebody has given it. */
function axisRuns(axis: AxisDescription): Run[] {
  if (axis.label) return [{ text: axis.label }]
  const [before, behind] = axis.transform.around
  return [
    ...(before ? [{ text: before }] : []),
    ...symbolRuns(axis),
    { text: `${behind}${axis.unit ? ` in ${axis.unit}` : ''}` },
  ].filter(({ text }) => text !== '')
}

type Layout = ReturnType<typeof layoutOf>

const colourOf = ({ colour }: SeriesDescription, { colours, ink }: GraphStyle) =>
  colour === null ? ink : colours[colour]

function drawSeries(pen: Pen, series: SeriesDescription, at: Layout, style: GraphStyle): void {
  const stroke = colourOf(series, style)
  const { direction } = series.quantity
  const points = series.points.map((point) => ({ ...point, left: at.x(point.x), top: at.y(point.y) }))
  if (style.errorBars) pen.path(points.map((point) => errorPath(point, at)).join(''), { stroke, width: 1.4 })
  if (style.look !== 'points') {
    const path = piecesOf(series, points).flatMap((piece) =>
      piece.map(({ left, top }, i) => `${i === 0 ? 'M' : 'L'}${inPath(left)} ${inPath(top)}`),
    )
    pen.path(path.join(''), { stroke, width: 1.6, dash: DASHES[direction] })
  }
  if (style.look !== 'line') {
    pen.path(points.map(({ left, top }) => markerPath(series.shape, left, top)).join(''), {
      stroke,
      width: 2,
      fill: markerFill(direction, stroke),
    })
  }
}

/** Bars of one standard error, with ends across. */
function errorPath(
  {
    x,
    y,
    left,
    top,
    errorX,
    errorY,
  }: { x: number; y: number; left: number; top: number; errorX: number; errorY: number },
  at: Layout,
): string {
  const bar = (x1: number, y1: number, x2: number, y2: number) =>
    `M${inPath(x1)} ${inPath(y1)}L${inPath(x2)} ${inPath(y2)}`
  const [low, high] = [at.y(y - errorY), at.y(y + errorY)]
  const upright =
    [low, high].map((end) => bar(left - CAP, end, left + CAP, end)).join('') + bar(left, low, left, high)
  if (!(errorX > 0)) return upright
  const [from, to] = [at.x(x - errorX), at.x(x + errorX)]
  return (
    upright + bar(from, top, to, top) + [from, to].map((end) => bar(end, top - CAP, end, top + CAP)).join('')
  )
}

function curvePath(curve: GraphCurve, at: Layout): string {
  return curve.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${inPath(at.x(x))} ${inPath(at.y(y))}`).join('')
}
