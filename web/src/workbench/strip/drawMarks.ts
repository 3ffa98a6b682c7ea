import { type Body, markedFrames } from '@apokinema/core/investigation'
import type { UsedFrames } from '@apokinema/core/time'
import { BODY_PAINT, type Palette } from '../../theme/palettes.ts'
import { MARKER_PATHS } from '../Marker.tsx'
import { LANE_HEIGHT } from './lanes.ts'

const MIDDLE = LANE_HEIGHT / 2

/** Largest distance of a sign's edge from its frame, in pixels. */
const REACH = 6

/** Returns the sign of a followed mark: a bar, higher for a higher certainty. */
function barOf(certainty: number): Path2D {
  const high = 0.3 + 1.7 * certainty ** 3
  const bar = new Path2D()
  bar.rect(-0.5, -high, 1, 2 * high)
  return bar
}

/**
 * Returns the frames whose signs are drawn, in order: one per pixel, the last one by hand if there is one,
 * otherwise the least certain. Signs outside the lane are left out.
 */
function drawnFrames(
  marked: readonly number[],
  marks: Body['marks'],
  xOf: (frame: number) => number,
  width: number,
): number[] {
  const weight = (frame: number) => {
    const mark = marks[frame]
    return mark.by === 'hand' ? -1 : mark.certainty
  }
  const drawn: number[] = []
  let pixel = Number.NaN
  for (const frame of marked) {
    const x = Math.round(xOf(frame))
    if (x < -REACH || x > width + REACH) continue
    if (x !== pixel) drawn.push(frame)
    else if (weight(frame) <= weight(drawn[drawn.length - 1])) drawn[drawn.length - 1] = frame
    pixel = x
  }
  return drawn
}

/** What is drawn of a body's marks on its lane. */
export interface DrawnMarks {
  body: Body
  /** Frames with a mark, increasing. */
  marked: readonly number[]
  /** Frames in use, in which an empty place is drawn where there is no mark; empty where these would overlap. */
  places: readonly number[]
  used: UsedFrames
  /** Frame of the selected mark, or null. */
  chosen: number | null
  /** Half the height of a sign, in pixels. */
  size: number
  width: number
  xOf(frame: number): number
  palette: Palette
}

/** Draws a body's marks along time on its lane: empty places, a sign per mark, and the selected one on top. */
export function drawMarks(
  context: CanvasRenderingContext2D,
  { body, marked, places, used, chosen, size, width, xOf, palette }: DrawnMarks,
): void {
  const covered = places.length > 0 ? markedFrames(body.marks) : new Set()
  context.fillStyle = palette.panel
  context.strokeStyle = palette.outline
  context.beginPath()
  for (const frame of places) {
    if (covered.has(frame)) continue
    const x = xOf(frame)
    const radius = Math.max(1.2, size - 0.8)
    context.moveTo(x + radius, MIDDLE)
    context.arc(x, MIDDLE, radius, 0, 2 * Math.PI)
  }
  context.fill()
  context.stroke()
  const marker = new Path2D(MARKER_PATHS[body.shape])
  context.fillStyle = BODY_PAINT[body.colour]
  const lay = (frame: number, isChosen: boolean) => {
    const mark = body.marks[frame]
    context.globalAlpha = used.has(frame) ? 1 : 0.3
    context.save()
    context.translate(xOf(frame), MIDDLE)
    context.scale(size, size)
    const sign = mark.by === 'hand' ? marker : barOf(mark.certainty)
    context.fill(sign)
    if (isChosen) {
      context.strokeStyle = palette.petrol
      context.lineWidth = 0.7
      context.stroke(sign)
    }
    context.restore()
  }
  for (const frame of drawnFrames(marked, body.marks, xOf, width)) lay(frame, false)
  if (chosen !== null && body.marks[chosen]) lay(chosen, true)
}
