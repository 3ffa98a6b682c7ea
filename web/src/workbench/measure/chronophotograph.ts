import { analyse } from '@apokinema/core/analysis'
import { sizeOf } from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'
import {
  type Body,
  framesInUse,
  type Investigation,
  inOrder,
  pictureSize,
} from '@apokinema/core/investigation'
import { arrowsOf, scaleArrow, type VectorKind } from '@apokinema/core/motion'
import { everyNth, spreadAperiodically } from '@apokinema/core/pictures'
import { placeIn } from '@apokinema/core/scene'
import { metresIn, significant, withUnit } from '@apokinema/core/units'
import * as Comlink from 'comlink'
import type { ChronoTask, ChronoWorker, DrawnLine } from '../../footage/chronophotograph.worker.ts'
import { BODY_PAINT } from '../../theme/palettes.ts'
import { gridField } from '../lengths.ts'
import { arrowPieces } from '../strokes.ts'

/** Options of a chronophotograph. */
export interface ChronoChoice {
  bodies: string[]
  /** Interval between the marks shown. */
  every: number
  arrows: 'none' | VectorKind
  grid: boolean
}

/** Number of frames from which the background is learned. */
const STILL_FRAMES = 15
/** Radius within which a body is copied, in its own half widths; as a share of the picture without an outline. */
const REACH = { outlined: 1.8, typical: 0.07 }
/** Length of the longest arrow, and the longest of the scale, as shares of the picture's height. */
const LONGEST = 0.18
const LEGEND = 0.12
/** Height of text: as a number of lines per picture height, and at least in pixels. */
const WORDS = { lines: 45, least: 11 }
const WHITE = '#FFFFFF'

/** Returns the worker's task for a chronophotograph; null if no body has marks in the span. */
export function chronoTask(investigation: Investigation, choice: ChronoChoice): ChronoTask | null {
  const { bodies, orientation } = investigation
  const scene = analyse(investigation).scene()
  const picture = pictureSize(investigation)
  const chosen = choice.bodies.flatMap((id) => {
    const { frames } = analyse(investigation).table(id)
    return everyNth(frames, choice.every).map((frame) => ({ id, frame, at: bodies[id].marks[frame] }))
  })
  if (chosen.length === 0) return null
  const sorted = chosen.sort((a, b) => a.frame - b.frame)
  const base = sorted[sorted.length >> 1].frame
  const seen = (frame: number, at: Point) => placeIn(scene, { frame, x: at.x, y: at.y }, base) ?? at
  const grid = choice.grid ? gridOf(investigation, base) : null
  const arrows = choice.arrows === 'none' ? null : arrowsIn(investigation, choice, choice.arrows, seen)
  const wordSize = Math.max(WORDS.least, Math.round(picture.height / WORDS.lines))
  const left = 1.2 * wordSize
  const [first, second] = [1, 2.8].map((lines) => picture.height - lines * wordSize)
  return {
    orientation,
    picture,
    base,
    wordSize,
    onto: null,
    still: stillFramesOf(investigation),
    cuts: sorted.map(({ frame, at }) => ({ frame, from: { x: at.x, y: at.y }, to: seen(frame, at) })),
    radius: Math.max(...choice.bodies.map((id) => reachOf(bodies[id], picture))),
    lines: [
      ...(grid?.lines ?? []),
      ...(arrows?.lines ?? []),
      ...(arrows ? arrowLines({ x: left, y: first }, { x: left + arrows.long, y: first }, WHITE) : []),
    ],
    words: [
      ...(arrows ? [{ at: { x: left + arrows.long + wordSize, y: first }, text: arrows.text }] : []),
      ...(grid ? [{ at: { x: left, y: arrows ? second : first }, text: grid.text }] : []),
    ],
  }
}

/** Returns the frames from which a clip's background is learned; none before a camera that moves. */
export function stillFramesOf(investigation: Investigation): number[] {
  if (investigation.camera.motion !== 'still') return []
  return spreadAperiodically(framesInUse(investigation).list, STILL_FRAMES)
}

/** Returns the radius around a body's mark within which it is copied, in pixels. */
export function reachOf({ outline }: Body, { width, height }: { width: number; height: number }): number {
  return outline
    ? REACH.outlined * sizeOf(outline) + 8
    : Math.max(24, REACH.typical * Math.min(width, height) * 2)
}

/** Returns grid lines of the scene at round distances in a frame's picture, and their spacing. */
function gridOf(investigation: Investigation, frame: number): { lines: DrawnLine[]; text: string } | null {
  const scene = analyse(investigation).scene()
  const transform = scene.at(frame)
  if (!transform) return null
  const { width, height } = pictureSize(investigation)
  const corners = [
    { x: 0, y: 0 },
    { x: width, y: 0 },
    { x: width, y: height },
    { x: 0, y: height },
  ].map(transform.toScene)
  const range = (pick: (point: Point) => number) => [
    Math.min(...corners.map(pick)),
    Math.max(...corners.map(pick)),
  ]
  const [[left, right], [low, high]] = [range(({ x }) => x), range(({ y }) => y)]
  const unit = investigation.lengthUnit
  const isPlain = scene.length === 'px'
  const field = gridField(right - left, high - low, isPlain ? 'm' : unit)
  const steps = (from: number, to: number) =>
    Array.from(
      { length: Math.floor(to / field) - Math.ceil(from / field) + 1 },
      (_, i) => (Math.ceil(from / field) + i) * field,
    )
  const line = (from: Point, to: Point): DrawnLine => ({
    points: [from, to].map(transform.toPicture),
    colour: 'rgba(255,255,255,0.55)',
    width: 1,
  })
  return {
    lines: [
      ...steps(left, right).map((x) => line({ x, y: low }, { x, y: high })),
      ...steps(low, high).map((y) => line({ x: left, y }, { x: right, y })),
    ],
    text: `grid ${isPlain ? withUnit(significant(field, 1), 'px') : withUnit(significant(field / metresIn(unit), 1), unit)}`,
  }
}

/** Returns the vectors at the marks shown, and an arrow of a round size at the same scale. */
function arrowsIn(
  investigation: Investigation,
  { bodies, every }: ChronoChoice,
  kind: VectorKind,
  seen: (frame: number, at: Point) => Point,
): { lines: DrawnLine[]; long: number; text: string } | null {
  const { height } = pictureSize(investigation)
  const tables = bodies.map((id) => analyse(investigation).shownTable(id))
  const arrows = arrowsOf(analyse(investigation).scene(), tables, kind, LONGEST * height)
  if (!arrows) return null
  const { lists, factor } = arrows
  return {
    lines: lists.flatMap((list, i) => {
      const shown = new Set(everyNth(tables[i].frames, every))
      const colour = BODY_PAINT[investigation.bodies[bodies[i]].colour]
      return list
        .filter(({ frame }) => shown.has(frame))
        .flatMap(({ frame, at, by }) => {
          const from = seen(frame, at)
          return arrowLines(from, { x: from.x + factor * by.x, y: from.y + factor * by.y }, colour)
        })
    }),
    ...scaleArrow(arrows, kind, LEGEND * height),
  }
}

/** Returns an arrow's shaft and head; nothing if it is too short to be seen. */
function arrowLines(from: Point, tip: Point, colour: string): DrawnLine[] {
  const length = Math.hypot(tip.x - from.x, tip.y - from.y)
  if (length < 3) return []
  return arrowPieces(from, tip, Math.min(12, 0.5 * length)).map((points) => ({ points, colour, width: 2.5 }))
}

/** Makes the picture in a worker; returns a message if that fails. */
export async function makeChronophotograph(
  from: Blob | string,
  task: ChronoTask,
  onProgress: (share: number) => void,
): Promise<Blob | string> {
  const worker = new Worker(new URL('../../footage/chronophotograph.worker.ts', import.meta.url), {
    type: 'module',
    name: 'chronophotograph',
  })
  try {
    return await Comlink.wrap<ChronoWorker>(worker).make(from, task, Comlink.proxy(onProgress))
  } finally {
    worker.terminate()
  }
}

/** Returns the bodies with marks, in order. */
export function markedBodies({ bodies }: Investigation): [string, Body][] {
  return inOrder(bodies).filter(([, { marks }]) => Object.keys(marks).length > 0)
}
