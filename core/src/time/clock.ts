import { type FrameTimes, frameTimes } from './frameTimes.ts'
import type { FrameTicks, TimeBase } from './ticks.ts'

/** How fast a range of frames was taken: slow motion has more frames a real second than it is played with. */
export interface CaptureRate {
  order: number
  /** First and last frame that it holds for; null: from the clip's first, to its last. */
  from: number | null
  to: number | null
  /** Frames per second of the real world; null where `known` says it instead. */
  rate: number | null
  /** Two frames and the real time between them, in seconds. */
  known: { from: number; to: number; seconds: number } | null
}

/** Towards which side of the upright picture a sensor reads its rows out. */
export const READOUT_DIRECTIONS = ['down', 'up', 'left', 'right'] as const
export type ReadoutDirection = (typeof READOUT_DIRECTIONS)[number]

/** A sensor that reads its rows one after the other: a mark's time depends on its row. */
export interface Readout {
  /** From the first row to the last, in seconds. */
  seconds: number
  towards: ReadoutDirection
}

/** What is done about frames that repeat the picture before them. */
export const REPEAT_USES = ['keep', 'leave-out', 'original-rate'] as const
export type RepeatUse = (typeof REPEAT_USES)[number]

/** Frames whose picture is that of the frame before, as found and accepted. */
export interface Repeats {
  /** Increasing; never the clip's first frame. */
  frames: number[]
  use: RepeatUse
  /** Frames per second that the recording had before it was saved at another rate; null where they repeat without a pattern. */
  originalRate: number | null
}

/** What a person decided about the times of a clip. */
export interface Timing {
  /** Frames per second of an even clock that is used in place of the file's times; null: the file's own. */
  constantRate: number | null
  /** Relative standard error of the clock's rate; null: estimated from the file. */
  rateError: number | null
  /** Frame of time zero; null: the span's first. */
  zero: number | null
  capture: Record<string, CaptureRate>
  readout: Readout | null
  repeats: Repeats | null
}

/** Timing as long as nobody has decided anything: the file's own times. */
export function fileTiming(): Timing {
  return { constantRate: null, rateError: null, zero: null, capture: {}, readout: null, repeats: null }
}

/** How the frames of a clip lie in real time. */
export interface Clock {
  /** Real time of each frame in seconds from the clip's first, not decreasing. */
  seconds: Float64Array
  /** Median real frames per second; 0 for a single frame. */
  rate: number
  /** Relative standard error of the clock's rate. */
  rateError: number
  /** How the file plays them. */
  playback: FrameTimes
  /** Frames that are not used since they repeat the one before. */
  leftOut: ReadonlySet<number>
}

/** A quartz clock of a phone or camera keeps to its rate within about this (100 parts in a million). */
const QUARTZ = 1e-4

/** Returns the frames of a clip that are not used since they repeat the one before. */
export function leftOutFrames(repeats: Repeats | null, count: number): ReadonlySet<number> {
  if (!repeats || repeats.use === 'keep') return new Set()
  return new Set(repeats.frames.filter((frame) => frame > 0 && frame < count))
}

/**
 * Returns the clock of a clip: the file's own times, or an even clock; repeated frames put back to their
 * original rate where that is wanted; then every interval scaled to the real world by the capture rate
 * of its range (of two that overlap, the later one counts). The playback rate that a capture rate is
 * held against is that of the range's median interval, so that a dropped frame does not change it.
 */
export function realClock(code: FrameTicks, base: TimeBase, timing: Timing): Clock {
  const playback = frameTimes(code, base)
  const count = playback.seconds.length
  const seconds = Float64Array.from(playback.seconds)
  if (timing.constantRate) for (let i = 0; i < count; i++) seconds[i] = i / timing.constantRate
  const { repeats } = timing
  const leftOut = leftOutFrames(repeats, count)
  if (repeats?.use === 'original-rate' && repeats.originalRate)
    layAtRate(seconds, leftOut, repeats.originalRate)
  scaleIntervals(seconds, leftOut, timing)
  const lengths = intervals(seconds, leftOut, 0, count - 1).sort()
  const median = lengths[lengths.length >> 1] ?? 0
  return {
    seconds,
    rate: median > 0 ? 1 / median : 0,
    rateError: timing.rateError ?? estimatedRateError(playback),
    playback,
    leftOut,
  }
}

/**
 * Relative standard error of a file's clock: that of a quartz, and of rounding the first and last time
 * (a rectangular distribution each, JCGM 100:2008, 4.3.7). Times that follow each other evenly were not rounded.
 */
export function estimatedRateError({ seconds, rounding }: FrameTimes): number {
  const duration = seconds.at(-1) ?? 0
  return duration > 0 ? Math.hypot(QUARTZ, rounding / Math.sqrt(6) / duration) : QUARTZ
}

/** Spaces the frames that are no repeats evenly; a repeat has the time of the one that it repeats. */
function layAtRate(seconds: Float64Array, leftOut: ReadonlySet<number>, rate: number): void {
  let taken = 0
  for (let i = 1; i < seconds.length; i++) {
    if (!leftOut.has(i)) taken++
    seconds[i] = seconds[0] + taken / rate
  }
}

/** Times between neighbouring frames that are no repeats, from one frame to another. */
function intervals(
  seconds: Float64Array,
  leftOut: ReadonlySet<number>,
  from: number,
  to: number,
): Float64Array {
  const found: number[] = []
  let before = -1
  for (let i = from; i <= to; i++) {
    if (leftOut.has(i)) continue
    if (before >= 0) found.push(seconds[i] - seconds[before])
    before = i
  }
  return Float64Array.from(found)
}

function scaleIntervals(seconds: Float64Array, leftOut: ReadonlySet<number>, { capture }: Timing): void {
  const ranges = Object.values(capture).sort((a, b) => a.order - b.order)
  if (ranges.length === 0) return
  const last = seconds.length - 1
  const factors = new Float64Array(seconds.length).fill(1)
  for (const range of ranges) {
    const from = Math.max(0, range.from ?? 0)
    const to = Math.min(last, range.to ?? last)
    const factor = slowFactor(range, seconds, leftOut, from, to)
    if (factor > 0) factors.fill(factor, from + 1, to + 1)
  }
  const file = Float64Array.from(seconds)
  for (let i = 1; i <= last; i++) seconds[i] = seconds[i - 1] + (file[i] - file[i - 1]) * factors[i]
}

/** Real seconds for a second of playback within a range; 0 where the range says nothing. */
function slowFactor(
  { rate, known }: CaptureRate,
  seconds: Float64Array,
  leftOut: ReadonlySet<number>,
  from: number,
  to: number,
): number {
  if (known) {
    const shown = (seconds[known.to] ?? Number.NaN) - (seconds[known.from] ?? Number.NaN)
    return shown > 0 ? known.seconds / shown : 0
  }
  const lengths = intervals(seconds, leftOut, from, to).sort()
  const median = lengths[lengths.length >> 1]
  return rate && median > 0 ? 1 / (rate * median) : 0
}

/** Capture rates that cameras offer, for picking one. */
export const COMMON_CAPTURE_RATES = [60, 120, 240, 300, 480, 600, 960, 1000]

/**
 * Returns by how much a row of the picture is read out later than its middle one, in seconds (negative:
 * earlier), for a point of the upright picture.
 */
export function rowDelay(
  { seconds, towards }: Readout,
  point: { x: number; y: number },
  picture: { width: number; height: number },
): number {
  const share = {
    down: point.y / picture.height,
    up: 1 - point.y / picture.height,
    right: point.x / picture.width,
    left: 1 - point.x / picture.width,
  }[towards]
  return seconds * (share - 0.5)
}

/**
 * Returns the read-out time that a straight upright edge shows which moves sideways and is seen leaning: between
 * its two ends it has moved on by as much as it leans. Null where it does not tell (no motion, or ends
 * in one row). For a sensor that reads out along x, hand over points and velocity with x and y exchanged.
 *
 * @param ends two points of the edge, in pixels
 * @param velocity of the edge across the rows, in pixels per second
 * @param rows height of the picture in pixels
 */
export function readoutOfEdge(
  ends: [{ x: number; y: number }, { x: number; y: number }],
  velocity: number,
  rows: number,
): number | null {
  const lean = (ends[1].x - ends[0].x) / (ends[1].y - ends[0].y)
  const seconds = (lean * rows) / velocity
  return Number.isFinite(seconds) ? seconds : null
}
