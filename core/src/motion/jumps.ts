import type { Mark } from '../investigation/index.ts'
import { type CachedValue, cached } from './diagnosisCache.ts'
import { chiSquareOf, MISFIT, type Parabola, parabola, type TimedMark } from './localParabola.ts'

/** A mark before which the position jumps: a body can change its velocity abruptly, but not its position. */
export interface Jump {
  frame: number
  /** Least distance of the motions before and after it, in pixels. */
  length: number
}

/** Marks on either side that are fitted, and their least number. */
const SIDE = { most: 8, least: 4 }
/**
 * A jump is longer than `pixels`, than `errors` standard errors, and than `usual` times the upper quartile of that distance in
 * this motion.
 */
const LIMIT = { pixels: 2, errors: 6, typical: 6 }
/** Pieces of the time between two marks in which both parabolas are taken as straight. */
const PIECES = 8

/**
 * Finds jumps: where the parabola through the marks before and the one through the marks after do not meet at any time in
 * between, as they would at a bounce.
 *
 * @param error standard error of one mark in pixels
 * @returns indices of the first marks behind the jumps, and their lengths in pixels
 */
export function jumpsIn(
  points: readonly TimedMark[],
  error: number,
  known: WeakMap<Mark, CachedValue>,
): { at: number; length: number }[] {
  const places = points.map((_, i) => {
    const [from, to] = [Math.max(0, i - SIDE.most), Math.min(points.length, i + SIDE.most)]
    if (i - from < SIDE.least || to - i < SIDE.least) return 0
    return cached(known, points, [from, i, to], error, () => apartAt(points, [from, i, to], error))
  })
  const sorted = [...places].sort((a, b) => a - b)
  const limit = Math.max(LIMIT.pixels, LIMIT.typical * (sorted[Math.floor(0.75 * sorted.length)] ?? 0))
  return places.flatMap((length, at) => {
    const near = places.slice(Math.max(0, at - SIDE.least), at + SIDE.least + 1)
    return length > limit && length === Math.max(...near) ? [{ at, length }] : []
  })
}

/** Returns the least distance of the motions before and after a mark; 0 if it is within their errors. */
function apartAt(
  points: readonly TimedMark[],
  [from, at, to]: [number, number, number],
  error: number,
): number {
  const before = smoothParabola(points.slice(from, at), error)
  const behind = smoothParabola(points.slice(at, to), error)
  if (!before || !behind) return 0
  const [start, end] = [points[at - 1].t, points[at].t]
  const { length, time } = closest(before, behind, start, end)
  const deviation = error * Math.sqrt(before.at(time).variance + behind.at(time).variance)
  return length > LIMIT.errors * deviation ? length : 0
}

/** Returns the parabola through marks; null if they do not lie on one, for example at a bounce. */
function smoothParabola(points: readonly TimedMark[], error: number): Parabola | null {
  const fitted = parabola(points)
  const freedom = 2 * (points.length - 3)
  return fitted && chiSquareOf(fitted, points, error) < MISFIT * freedom ? fitted : null
}

/** Returns the least distance of two parabolas between two times, and its time. */
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
