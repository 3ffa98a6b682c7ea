import type { Mark } from '../investigation/index.ts'
import { type Known, remembered } from './courseMemory.ts'
import { MISFIT, misfitOf, type Parabola, parabola, type Spot } from './localCourse.ts'

/** A mark that no motion leads to: a body may change its velocity at once, but not its place. */
export interface Jump {
  frame: number
  /** How far apart the courses before it and from it on remain, in pixels. */
  length: number
}

/** Marks on either side that tell the course, and the fewest. */
const SIDE = { most: 8, least: 4 }
/**
 * A jump is longer than `pixels`, than `errors` standard errors, and than `usual` times what quick motion makes of the
 * courses in three quarters of the other places.
 */
const LIMIT = { pixels: 2, errors: 6, usual: 6 }
/** Pieces of the time between two marks in which both courses are taken to be straight. */
const PIECES = 8

/**
 * Finds where a row of marks jumps: where the parabola through the marks before and the one through the marks from there
 * on do not meet at any time in between. At a bounce they do.
 *
 * @param error standard error of one mark in pixels
 * @returns places in the row of the first marks behind, with how far apart the courses remain in pixels
 */
export function jumpsIn(
  spots: readonly Spot[],
  error: number,
  known: WeakMap<Mark, Known>,
): { at: number; length: number }[] {
  const places = spots.map((_, i) => {
    const [from, to] = [Math.max(0, i - SIDE.most), Math.min(spots.length, i + SIDE.most)]
    if (i - from < SIDE.least || to - i < SIDE.least) return 0
    return remembered(known, spots, [from, i, to], error, () => apartAt(spots, [from, i, to], error))
  })
  const sorted = [...places].sort((a, b) => a - b)
  const limit = Math.max(LIMIT.pixels, LIMIT.usual * (sorted[Math.floor(0.75 * sorted.length)] ?? 0))
  return places.flatMap((length, at) => {
    const near = places.slice(Math.max(0, at - SIDE.least), at + SIDE.least + 1)
    return length > limit && length === Math.max(...near) ? [{ at, length }] : []
  })
}

/** Least distance of the courses before and behind a mark in the time between; 0 where their errors may have made it. */
function apartAt(spots: readonly Spot[], [from, at, to]: [number, number, number], error: number): number {
  const before = smoothCourse(spots.slice(from, at), error)
  const behind = smoothCourse(spots.slice(at, to), error)
  if (!before || !behind) return 0
  const [start, end] = [spots[at - 1].t, spots[at].t]
  const { length, time } = closest(before, behind, start, end)
  const deviation = error * Math.sqrt(before.at(time).variance + behind.at(time).variance)
  return length > LIMIT.errors * deviation ? length : 0
}

/** The parabola through marks; null where they do not lie on one: there is a bounce among them, or the jump itself. */
function smoothCourse(spots: readonly Spot[], error: number): Parabola | null {
  const course = parabola(spots)
  const freedom = 2 * (spots.length - 3)
  return course && misfitOf(course, spots, error) < MISFIT * freedom ? course : null
}

/** The least distance of two courses between two times, and when it is reached. */
function closest(
  before: Parabola,
  behind: Parabola,
  start: number,
  end: number,
): { length: number; time: number } {
  const offAt = (time: number) => {
    const [a, b] = [before.at(time), behind.at(time)]
    return { x: b.x - a.x, y: b.y - a.y }
  }
  let best = { length: Number.POSITIVE_INFINITY, time: start }
  let first = offAt(start)
  for (let piece = 1; piece <= PIECES; piece++) {
    const time = start + ((end - start) * piece) / PIECES
    const second = offAt(time)
    const [dx, dy] = [second.x - first.x, second.y - first.y]
    const square = dx * dx + dy * dy
    const share = square > 0 ? Math.min(1, Math.max(0, -(first.x * dx + first.y * dy) / square)) : 0
    const length = Math.hypot(first.x + share * dx, first.y + share * dy)
    if (length < best.length) best = { length, time: time - ((1 - share) * (end - start)) / PIECES }
    first = second
  }
  return best
}
