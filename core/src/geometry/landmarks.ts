import { MAD_TO_DEVIATION, median } from '../time/index.ts'
import { type PlacedByHand, placingErrorOf } from './placing.ts'
import type { Point } from './points.ts'

/** A fixed point of the scene, marked in some frames. */
export interface MarkedLandmark {
  id: string
  /** Where it is in the frames in which it was marked, by frame. */
  marks: Record<string, PlacedByHand>
  /** The frame from which on it can't be seen any more; null: it stays. */
  gone: number | null
}

/** Where a landmark is in one frame. */
export interface LandmarkPlace extends Point {
  /** Marked in this very frame, between marks, or held where it was last marked. */
  how: 'marked' | 'between' | 'held'
}

/** One error source of a landmark: its standard error times the weight in each frame of a range. */
export interface LandmarkInfluence {
  landmark: string
  axis: 'x' | 'y'
  /** Standard error in pixels. */
  error: number
  /** First frame, and weights from it on. */
  from: number
  weights: number[]
}

/** Returns the frames in which a landmark was marked, increasing. */
export function markedFrames({ marks }: Pick<MarkedLandmark, 'marks'>): number[] {
  return Object.keys(marks)
    .map(Number)
    .sort((a, b) => a - b)
}

/**
 * Returns the position of a landmark in a frame: its mark; between marks linear interpolation in time; after the last
 * mark the last position. Null before the first mark and once it is gone.
 *
 * @param seconds time of every frame
 * @param frames in which it was marked, where they are at hand
 */
export function landmarkAt(
  landmark: MarkedLandmark,
  frame: number,
  seconds: ArrayLike<number>,
  frames = markedFrames(landmark),
): LandmarkPlace | null {
  if (frames.length === 0 || frame < frames[0]) return null
  if (landmark.gone !== null && frame >= landmark.gone) return null
  const at = landmark.marks[frame]
  if (at) return { x: at.x, y: at.y, how: 'marked' }
  const next = frames.find((candidate) => candidate > frame)
  const before = frames.findLast((candidate) => candidate < frame)!
  const from = landmark.marks[before]
  if (next === undefined) return { x: from.x, y: from.y, how: 'held' }
  const to = landmark.marks[next]
  const share = (seconds[frame] - seconds[before]) / (seconds[next] - seconds[before])
  return { x: from.x + share * (to.x - from.x), y: from.y + share * (to.y - from.y), how: 'between' }
}

/** A landmark that is marked in this share of the frames of its range, and in so many at least, was followed. */
const FOLLOWED = { share: 0.8, frames: 12 }
/** Least standard error of a followed landmark's mark, in pixels. */
const FINEST = 0.05
/** Standard error, in pixels, by which a followed landmark has slipped along its range: its look is renewed on the way. */
const SLIP = 0.5

/**
 * Returns the standard error per axis, in pixels, of the marks of a landmark that was followed, from their third
 * differences; null if it was marked by hand only now and then.
 */
export function followedLandmarkError({ marks }: Pick<MarkedLandmark, 'marks'>): number | null {
  const frames = markedFrames({ marks })
  const range = frames.length > 0 ? frames[frames.length - 1] - frames[0] + 1 : 0
  if (frames.length < FOLLOWED.frames || frames.length < FOLLOWED.share * range) return null
  const sizes: number[] = []
  for (let i = 3; i < frames.length; i++) {
    if (frames[i] - frames[i - 3] !== 3) continue
    const [a, b, c, d] = frames.slice(i - 3, i + 1).map((frame) => marks[frame])
    for (const axis of ['x', 'y'] as const)
      sizes.push(Math.abs(d[axis] - 3 * c[axis] + 3 * b[axis] - a[axis]) / Math.sqrt(20))
  }
  return sizes.length === 0 ? null : Math.max(FINEST, MAD_TO_DEVIATION * median(sizes))
}

/** Returns the standard error of a landmark's marks, in pixels: as it was followed, or the mean of what it was placed with. */
export function landmarkError(landmark: MarkedLandmark): number {
  const placed = Object.values(landmark.marks).map(placingErrorOf)
  return followedLandmarkError(landmark) ?? placed.reduce((sum, one) => sum + one, 0) / placed.length
}

/**
 * Returns what can be wrong with where a landmark is taken to be, as independent sources that each move it in a
 * range of frames at once. Every mark is misplaced by its error, which reaches as far as the marks beside
 * it; and between marks the camera need not have moved evenly: the curvature that neighbouring marks show
 * (h²/8 times the second derivative that they have) is its standard error there, full in the middle. A landmark that was
 * followed may have slipped evenly along its range as well.
 */
export function landmarkInfluences(
  landmark: MarkedLandmark,
  seconds: ArrayLike<number>,
): LandmarkInfluence[] {
  const frames = markedFrames(landmark)
  const last = (landmark.gone ?? seconds.length) - 1
  const influences: LandmarkInfluence[] = []
  const axes = ['x', 'y'] as const
  const share = (frame: number, from: number, to: number) =>
    (seconds[frame] - seconds[from]) / (seconds[to] - seconds[from])

  const followed = followedLandmarkError(landmark)
  if (followed !== null) {
    const first = frames[0]
    const weights = Array.from({ length: last - first }, (_, i) => (i + 1) / (last - first))
    for (const axis of axes)
      influences.push({ landmark: landmark.id, axis, error: SLIP, from: first + 1, weights })
  }

  frames.forEach((frame, i) => {
    const [before, after] = [frames[i - 1], frames[i + 1]]
    const from = before === undefined ? frame : before + 1
    const to = after === undefined ? last : after - 1
    const weights: number[] = []
    for (let at = from; at <= to; at++)
      weights.push(
        at < frame
          ? share(at, before, frame)
          : at === frame || after === undefined
            ? 1
            : 1 - share(at, frame, after),
      )
    const error = followed ?? placingErrorOf(landmark.marks[frame])
    for (const axis of axes) influences.push({ landmark: landmark.id, axis, error, from, weights })
  })

  for (let i = 0; i + 1 < frames.length; i++) {
    const [a, b] = [frames[i], frames[i + 1]]
    if (b - a < 2) continue
    const h = seconds[b] - seconds[a]
    for (const axis of axes) {
      const curvatures = [i - 1, i]
        .filter((k) => k >= 0 && k + 2 < frames.length)
        .map((k) => curvature(landmark, frames.slice(k, k + 3), axis, seconds))
      const error = curvatures.length > 0 ? (h * h * Math.max(...curvatures)) / 8 : 0
      if (!(error > 0)) continue
      const weights: number[] = []
      for (let at = a + 1; at < b; at++) weights.push(4 * share(at, a, b) * (1 - share(at, a, b)))
      influences.push({ landmark: landmark.id, axis, error, from: a + 1, weights })
    }
  }
  return influences
}

/** Returns the size of the second derivative of a landmark's place at three marked frames, in pixels a second squared. */
function curvature(
  { marks }: MarkedLandmark,
  [p, q, r]: number[],
  axis: 'x' | 'y',
  seconds: ArrayLike<number>,
): number {
  const slope = (from: number, to: number) =>
    (marks[to][axis] - marks[from][axis]) / (seconds[to] - seconds[from])
  return Math.abs((2 * (slope(q, r) - slope(p, q))) / (seconds[r] - seconds[p]))
}
