import { type Point, type Turn, turnedPoint, turnedRadii } from '../../geometry/index.ts'
import {
  type CaptureRate,
  clampSpan,
  fileTiming,
  frameCount,
  type Readout,
  type Repeats,
  type Span,
  type Timing,
} from '../../time/index.ts'
import type { Footage } from '../document/footage.ts'
import type { Investigation } from '../document/investigation.ts'
import { nextOrder } from '../document/order.ts'
import { pictureSize, turnedDirection, turnedTilt } from '../orientation.ts'
import type { Mutator } from '../patch.ts'

/**
 * Puts footage in: the span becomes the whole clip, its times the file's own, the origin the middle of the picture. What was
 * refused for other footage is forgotten.
 */
export function setFootage(footage: Footage): Mutator {
  return (draft) => {
    draft.footage = footage
    draft.timing = fileTiming()
    draft.orientation = { mirrored: false, quarterTurns: 0 }
    draft.refusals = {}
    draft.span = { first: 0, last: frameCount(footage.ticks) - 1, every: 1 }
    for (const axes of Object.values(draft.axes))
      if (!axes.placed) axes.origin = { x: footage.width / 2, y: footage.height / 2, frame: 0 }
  }
}

/** Changes the title. */
export function setTitle(title: string): Mutator {
  return (draft) => {
    draft.title = title
  }
}

/** Changes the span; it is forced into the clip. */
export function setSpan(change: Partial<Span>): Mutator {
  return (draft) => {
    if (!draft.footage) return
    const frames = frameCount(draft.footage.ticks)
    const wanted = { ...draft.span, ...change }
    // The end that was moved gives way, not the one that was left alone.
    if (change.first !== undefined) wanted.first = Math.min(wanted.first, wanted.last)
    draft.span = clampSpan(wanted, frames)
  }
}

/** Changes how the clip's times are told: an even clock, its error, time zero. */
export function setTiming(change: Partial<Pick<Timing, 'constantRate' | 'rateError' | 'zero'>>): Mutator {
  return (draft) => {
    Object.assign(draft.timing, change)
  }
}

/** States a capture rate for a range of frames, or changes the one that has this id. */
export function setCaptureRate(id: string, stated: Omit<CaptureRate, 'order'>): Mutator {
  return (draft) => {
    const { capture } = draft.timing
    capture[id] = { ...stated, order: capture[id]?.order ?? nextOrder(capture) }
  }
}

/** Takes a capture rate away. */
export function removeCaptureRate(id: string): Mutator {
  return (draft) => {
    delete draft.timing.capture[id]
  }
}

/** States the read-out time of the sensor; null switches the correction off. */
export function setReadout(readout: Readout | null): Mutator {
  return (draft) => {
    draft.timing.readout = readout
  }
}

/** Accepts what was found of repeated frames; null forgets it. */
export function setRepeats(repeats: Repeats | null): Mutator {
  return (draft) => {
    draft.timing.repeats = repeats
  }
}

/** Turns the picture by a quarter or mirrors it; marks, calibration and read-out turn along with it. */
export function turnPicture(turn: Turn): Mutator {
  return (draft) => {
    if (!draft.footage) return
    const size = pictureSize(draft)
    const moved = (point: Point) => turnedPoint(turn, point, size)
    const zero = moved({ x: 0, y: 0 })
    for (const streak of everyStreak(draft)) {
      const { x, y } = moved(streak)
      Object.assign(streak, { x: x - zero.x, y: y - zero.y })
    }
    for (const point of everyPoint(draft)) Object.assign(point, moved(point))
    for (const axes of Object.values(draft.axes)) axes.tilt = turnedTilt(turn, axes.tilt)
    for (const { outline } of Object.values(draft.bodies))
      if (outline) outline.radii = turnedRadii(turn, outline.radii)
    const { direction, error } = draft.gravity ?? { direction: STRAIGHT_DOWN, error: 0 }
    const down = turnedTilt(turn, direction)
    const isDefault = error === 0 && Math.abs(down - STRAIGHT_DOWN) < 1e-12
    draft.gravity = isDefault ? null : { direction: down, error }
    // A plane that is mirrored counts from its other side.
    if (draft.plane && turn === 'mirror') {
      const [a, b, c, d] = draft.plane.corners
      draft.plane.corners = [b, a, d, c]
    }
    const { readout } = draft.timing
    if (readout) readout.towards = turnedDirection(turn, readout.towards)
    const { mirrored, quarterTurns } = draft.orientation
    // Mirroring comes first in what is stored, so turns that were made before it run the other way round.
    draft.orientation =
      turn === 'mirror'
        ? { mirrored: !mirrored, quarterTurns: quarters(-quarterTurns) }
        : { mirrored, quarterTurns: quarters(quarterTurns + (turn === 'right' ? 1 : -1)) }
  }
}

const STRAIGHT_DOWN = -Math.PI / 2

/** Every point of the picture that a document holds. */
function* everyPoint(draft: Investigation): Generator<Point> {
  for (const { marks, second } of Object.values(draft.bodies)) {
    yield* Object.values(marks)
    yield* Object.values(second)
  }
  for (const reference of Object.values(draft.references)) yield* reference.ends
  for (const axes of Object.values(draft.axes)) yield axes.origin
  for (const probe of Object.values(draft.probes)) yield* probe.points
  for (const landmark of Object.values(draft.camera.landmarks)) yield* Object.values(landmark.marks)
  for (const refusal of Object.values(draft.refusals)) if (refusal.kind === 'body') yield refusal
  if (draft.plane) yield* draft.plane.corners
  for (const edge of Object.values(draft.lens?.edges ?? {})) yield* edge.points
}

function* everyStreak(draft: Investigation): Generator<Point> {
  for (const { marks } of Object.values(draft.bodies))
    for (const { streak } of Object.values(marks)) if (streak) yield streak
}

function quarters(turns: number): 0 | 1 | 2 | 3 {
  return (((turns % 4) + 4) % 4) as 0 | 1 | 2 | 3
}
