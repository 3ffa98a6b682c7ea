import { analyse } from '@apokinema/core/analysis'
import { distance, type Point } from '@apokinema/core/geometry'
import {
  type Body,
  framesInUse,
  type Investigation,
  type Mark,
  pictureSize,
} from '@apokinema/core/investigation'
import { arrowsOf, roundTimes, scaleArrow, VECTOR_KINDS, type VectorKind } from '@apokinema/core/motion'
import { clockOf, placeIn } from '@apokinema/core/scene'
import { fixed } from '@apokinema/core/units'
import { type Look, markScale } from '../theme/look.ts'
import { BODY_PAINT } from '../theme/palettes.ts'
import { arrow, CHOSEN, DARK, dot, LIGHT, lines, ring, spot, words } from './strokes.ts'
import type { Selection, View } from './workbenchStore.ts'

/** Steps of the span over which a trail fades if no time is chosen. */
const TRAIL = 30
/** Maximum number of times written along a trail. */
const MOST_TIMES = 12
/** Least distance of two times in CSS pixels; closer ones would overlap. */
const TIMES_APART = 26
/** Length of the longest arrow, as a share of the picture's height. */
const LONGEST_ARROW = 0.22
/** Least distance of two arrows in CSS pixels, except for that of the current frame. */
const ARROWS_APART = 38
/** Maximum length of the arrow of the scale, in CSS pixels. */
const SCALE_ARROW = 90

/** Returns the opacity of a frame's mark on the picture of another: 1 at that frame, fading to 0. */
type Fade = (marked: number, frame: number) => number

function fadeOf(investigation: Investigation): Fade {
  const { span, drawn } = investigation
  const seconds = clockOf(investigation)?.seconds
  if (drawn.trail !== null && seconds) {
    const { trail } = drawn
    return (marked, frame) => Math.max(0, 1 - Math.abs(seconds[marked] - seconds[frame]) / trail)
  }
  // A long trail is cut off: all of it would hide the picture.
  const reach = Math.max(12, Math.min((span.last - span.first) / 1.4, TRAIL * span.every))
  return (marked, frame) => {
    const away = Math.abs(marked - frame)
    return away > 2 * reach ? 0 : Math.max(0.05, 1 - away / reach)
  }
}

/** What is drawn, and its mapping to the stage. */
interface Drawing {
  context: CanvasRenderingContext2D
  investigation: Investigation
  frame: number
  fade: Fade
  /** Returns a point of a frame's picture on the stage; null if the landmarks do not determine it. */
  see: (point: Point, of: number) => Point | null
  zoom: number
  /** Size of the signs. */
  scale: number
  look: Look
}

/** Returns true if a mark applies to a frame: it is at this frame, or a rest that covers it. */
const holdsIn = (marked: number, { until }: Mark, frame: number) =>
  marked <= frame && (until ?? marked) >= frame

function drawMarks(
  drawing: Drawing,
  id: string,
  body: Body,
  {
    selection,
    isActive,
    isOutlined,
    isHollow,
    rows,
  }: {
    selection: Selection | null
    isActive: boolean
    isOutlined: boolean
    isHollow: boolean
    /** Frames whose rows of the data table are selected. */
    rows: { from: number; to: number } | null
  },
): void {
  const { context, investigation, frame, fade, see, scale } = drawing
  const used = framesInUse(investigation)
  const paint = BODY_PAINT[body.colour]
  for (const [key, mark] of Object.entries(body.marks)) {
    const marked = Number(key)
    const isChosen = selection?.kind === 'mark' && selection.body === id && selection.frame === marked
    const isHere = holdsIn(marked, mark, frame)
    const shown = fade(marked, frame)
    const isRow = rows !== null && marked >= rows.from && marked <= rows.to
    if (shown === 0 && !isChosen && !isHere && !isRow) continue
    const at = see(mark, marked)
    if (!at) continue
    if (isHere) drawExtent(drawing, body, marked, at)
    if (isHere && isOutlined) {
      // The outline is being edited.
      dot(context, at, 4.4, DARK)
      dot(context, at, 3.4, LIGHT)
    } else if (isHere) {
      ring(context, at, 14 * scale, 5, DARK)
      ring(context, at, 14 * scale, 3.6, LIGHT)
      ring(context, at, 14 * scale, 2.4, paint)
    } else {
      const faded = used.has(marked) ? Math.max(0.25, shown) : 0.18
      context.globalAlpha = isActive ? faded : faded * 0.7
      spot(context, at, isHollow ? 'hollow' : 'full', paint, scale)
      context.globalAlpha = 1
    }
    if (isRow) ring(context, at, 7 * scale, 2, CHOSEN)
    if (isChosen) {
      context.setLineDash([5, 4])
      ring(context, at, 19 * scale, 2, CHOSEN)
      context.setLineDash([])
    }
  }
}

/** Draws the other points of a mark: the ends of a streak, and the second point that shows the body's rotation. */
function drawExtent(
  { context, see, zoom, scale, look: { stroke } }: Drawing,
  body: Body,
  marked: number,
  at: Point,
): void {
  const look = { width: 1.6 * stroke, colour: BODY_PAINT[body.colour] }
  const { streak } = body.marks[marked]
  if (streak) {
    const [dx, dy] = [streak.x * zoom, streak.y * zoom]
    const ends = [
      { x: at.x - dx, y: at.y - dy },
      { x: at.x + dx, y: at.y + dy },
    ]
    lines(context, [ends], look)
  }
  const end = body.second[marked] && see(body.second[marked], marked)
  if (!end) return
  lines(context, [[at, end]], look)
  dot(context, end, 3.6 * scale, DARK)
  dot(context, end, 2.6 * scale, LIGHT)
}

/** Writes times along the trail of a body, at round tenths of a second. */
function drawTimes({ context, investigation, frame, fade, see, look: { type } }: Drawing, id: string): void {
  const table = analyse(investigation).shownTable(id)
  const rows = table.frames.flatMap((marked, row) => (fade(marked, frame) > 0 ? [row] : []))
  const times = rows.map((row) => table.times[row])
  const written: Point[] = []
  for (const { row: i, time } of roundTimes(times, MOST_TIMES)) {
    const row = rows[i]
    const at = see({ x: table.picture.x[row], y: table.picture.y[row] }, table.frames[row])
    // Where the path crosses itself, only the first text is kept.
    if (!at || written.some((other) => distance(other, at) < TIMES_APART * type)) continue
    written.push(at)
    words(context, { x: at.x + 8 * type, y: at.y - 11 * type }, fixed(time, 1), type)
  }
}

/** Dash patterns of the kinds of vectors. */
const DASHES: Record<VectorKind, number[]> = { velocity: [], acceleration: [6, 5], momentum: [2, 3] }

/** Draws the vectors of all bodies at one scale, with an arrow of known size at the lower left; returns whether there are any. */
function drawArrows(drawing: Drawing, kind: VectorKind, y: number): boolean {
  const {
    context,
    investigation,
    frame,
    fade,
    see,
    zoom,
    look: { type, stroke },
  } = drawing
  const scene = analyse(investigation).scene()
  const most = LONGEST_ARROW * pictureSize(investigation).height
  const visible = Object.entries(investigation.bodies).filter(([, { hidden }]) => !hidden)
  const tables = visible.map(([id]) => analyse(investigation).shownTable(id))
  const arrows = arrowsOf(scene, tables, kind, most)
  if (!arrows) return false
  const { lists, factor } = arrows
  const dash = DASHES[kind]
  lists.forEach((list, i) => {
    const [, { colour }] = visible[i]
    let last: Point | null = null
    for (const { frame: marked, at, by } of list) {
      const shown = fade(marked, frame)
      if (shown === 0) continue
      const from = see(at, marked)
      const tip = see({ x: at.x + factor * by.x, y: at.y + factor * by.y }, marked)
      if (!from || !tip) continue
      if (marked !== frame) {
        if (last && distance(from, last) < ARROWS_APART) continue
        last = from
      }
      context.globalAlpha = Math.max(0.3, shown)
      const vector = { x: tip.x - from.x, y: tip.y - from.y }
      arrow(context, from, vector, {
        width: (marked === frame ? 2.6 : 1.4) * stroke,
        colour: BODY_PAINT[colour],
        dash,
      })
      context.globalAlpha = 1
    }
  })
  const { long, text } = scaleArrow(arrows, kind, SCALE_ARROW, zoom)
  arrow(context, { x: 14, y }, { x: long, y: 0 }, { width: 1.6 * stroke, colour: LIGHT, dash })
  words(context, { x: 24 + long, y }, text, type)
  return true
}

/** Options of the marks on a picture. */
export interface MarksOptions {
  size: { width: number; height: number }
  view: View
  /** Size of the signs, for small pictures. */
  scale: number
  look: Look
  /** Id of the active body. */
  active: string | null
  selection: Selection | null
  /** Id of the body whose outline is being edited, and of the one that is being marked. */
  outlined: string | null
  marked: string | null
  /** Frames whose rows of the data table are selected. */
  rows: { from: number; to: number } | null
}

/** Draws the marks of all bodies on the picture of a frame, with times and vectors if they are switched on. */
export function drawAllMarks(
  context: CanvasRenderingContext2D,
  investigation: Investigation,
  frame: number,
  { size, view, scale, look, active, selection, outlined, marked, rows }: MarksOptions,
): void {
  const scene = analyse(investigation).scene()
  const see = (point: Point, of: number) => {
    // If the camera moves, an earlier mark is drawn where its spot of the scene is in this frame.
    const seen = placeIn(scene, { x: point.x, y: point.y, frame: of }, frame)
    return seen && { x: seen.x * view.zoom + view.x, y: seen.y * view.zoom + view.y }
  }
  const drawing: Drawing = {
    context,
    investigation,
    frame,
    see,
    scale: scale * markScale(look),
    look,
    fade: fadeOf(investigation),
    zoom: view.zoom,
  }
  for (const [id, body] of Object.entries(investigation.bodies))
    if (!body.hidden)
      drawMarks(drawing, id, body, {
        selection,
        isActive: id === active,
        isOutlined: id === outlined,
        isHollow: id === marked,
        rows,
      })
  // A small picture has no space for more.
  if (scale < 1) return
  const { drawn } = investigation
  let line = 1
  for (const kind of VECTOR_KINDS)
    if (drawn[kind] && drawArrows(drawing, kind, size.height - 22 * look.type * line)) line++
  if (drawn.times && active && !investigation.bodies[active].hidden) drawTimes(drawing, active)
}
