import { MAD_TO_DEVIATION, median } from '../time/index.ts'
import { type PlacedByHand, placingErrorOf } from './placing.ts'
import type { Point } from './points.ts'
import {
  type CameraMotion,
  fitSimilarity,
  POINTS_NEEDED,
  type Similarity,
  similarityStep,
  UNMOVED,
  zoomOf,
} from './similarity.ts'

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

/** A transition from one set of landmarks to another. */
export interface Seam {
  frame: number
  /** By what share the picture's scale jumps there, against how it went on in the two frames before. */
  change: number
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

/** A small displacement of a landmark in one frame, in pixels. */
export interface Nudge {
  landmark: string
  axis: 'x' | 'y'
  by: number
}

/** The camera's motion through a clip, as the similarity of each frame to the reference picture. */
export interface CameraPath {
  /** Takes a point of a frame's picture to where it is in the first landmark's first picture; null where the landmarks don't tell. */
  toReference(frame: number, nudge?: Nudge): Similarity | null
  /** The frame that all others are taken to. */
  base: number
  seams: Seam[]
  /** Root mean square distance of landmarks from where the path puts them, in pixels: 0 with no more than are needed. */
  misfit: number
  /** What it is expected to be from the errors of the landmarks' marks. */
  expectedMisfit: number
  /** Share of the frames after the base in which more landmarks are seen than are needed, so that one that slips contradicts the others. */
  redundancy: number
}

const NOWHERE: Similarity = { a: 0, b: 0, x: 0, y: 0 }

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

/**
 * Returns the camera's motion that landmarks tell. Everything is taken to the picture of the frame in which the
 * first landmark begins. A landmark that begins later is given its place there by the others, as the mean
 * over the frames in which both are seen; from where an earlier one is gone the later one stands in for it.
 * Null where no landmark has a mark.
 *
 * @param motion what the camera can have done
 * @param seconds time of every frame
 */
export function cameraPath(
  landmarks: MarkedLandmark[],
  motion: CameraMotion,
  seconds: ArrayLike<number>,
): CameraPath | null {
  const marked = landmarks
    .filter((landmark) => Object.keys(landmark.marks).length > 0)
    .map((landmark) => ({ landmark, first: markedFrames(landmark)[0] }))
    .sort((a, b) => a.first - b.first)
  if (marked.length === 0) return null
  const base = marked[0].first
  const count = seconds.length
  const places = new Map(
    marked.map(({ landmark }) => {
      const frames = markedFrames(landmark)
      return [
        landmark.id,
        Array.from({ length: count }, (_, frame) => landmarkAt(landmark, frame, seconds, frames)),
      ]
    }),
  )

  /** Where each landmark is in the base picture, as soon as it is known. */
  const anchors = new Map<string, Point>()
  const needed = POINTS_NEEDED[motion]
  for (const { landmark, first } of marked)
    if (first === base || anchors.size < needed) {
      const place = places.get(landmark.id)![base]
      if (place) anchors.set(landmark.id, place)
    }

  const solve = (frame: number, ids: Iterable<string>, nudge?: Nudge): Similarity | null => {
    const [from, to]: [Point[], Point[]] = [[], []]
    for (const id of ids) {
      const place = places.get(id)![frame]
      if (!place) continue
      const isNudged = nudge?.landmark === id
      from.push(isNudged ? { ...place, [nudge.axis]: place[nudge.axis] + nudge.by } : place)
      to.push(anchors.get(id)!)
    }
    if (frame === base && from.length > 0) return UNMOVED
    return fitSimilarity(from, to, motion)
  }

  anchorLater(marked, anchors, places, (frame) => solve(frame, anchors.keys()))

  const path = new Map<number, Similarity | null>()
  const toReference = (frame: number, nudge?: Nudge) => {
    if (nudge) return solve(frame, anchors.keys(), nudge)
    let known = path.get(frame)
    if (known === undefined) {
      known = solve(frame, anchors.keys())
      path.set(frame, known)
    }
    return known
  }

  const solved: SolvedPath = { base, count, needed, anchors, places, toReference }
  const errors = new Map(marked.map(({ landmark }) => [landmark.id, landmarkError(landmark)]))
  return { toReference, base, seams: seamsOf(solved), ...misfitOf(solved, errors) }
}

/** Positions of each landmark in every frame; null where it is not known. */
type Tracks = ReadonlyMap<string, readonly (LandmarkPlace | null)[]>

/** What the quality of a path is judged by. */
interface SolvedPath {
  base: number
  /** Number of frames. */
  count: number
  /** Landmarks that the motion needs in a frame. */
  needed: number
  /** Position of each landmark in the base picture. */
  anchors: ReadonlyMap<string, Point>
  places: Tracks
  toReference(frame: number): Similarity | null
}

/**
 * Adds the anchors of landmarks that begin later: the mean position to which the path of the earlier ones takes them, over
 * all frames in which both are seen. A landmark that is never seen together with an earlier one gets none.
 */
function anchorLater(
  marked: readonly { landmark: MarkedLandmark }[],
  anchors: Map<string, Point>,
  places: Tracks,
  pathAt: (frame: number) => Similarity | null,
): void {
  for (const { landmark } of marked) {
    if (anchors.has(landmark.id)) continue
    const own = places.get(landmark.id)!
    const seen = own.flatMap((place, frame) => {
      const path = place && pathAt(frame)
      return path ? [{ frame, at: similarityStep(path).forward(place) }] : []
    })
    if (seen.length === 0) continue
    const mean = (axis: 'x' | 'y') => seen.reduce((sum, { at }) => sum + at[axis], 0) / seen.length
    anchors.set(landmark.id, { x: mean('x'), y: mean('y') })
  }
}

/** Returns the landmarks with an anchor that are seen in a frame. */
const seenIn = ({ anchors, places }: SolvedPath, frame: number) =>
  [...anchors.keys()].filter((id) => places.get(id)![frame])

/** Returns the frames from which a landmark is gone, with the change of the scale there: 0 unless a landmark slipped or lies at another depth. */
function seamsOf(path: SolvedPath): Seam[] {
  const seams: Seam[] = []
  for (let frame = path.base + 2; frame < path.count; frame++) {
    const after = seenIn(path, frame)
    if (seenIn(path, frame - 1).every((id) => after.includes(id))) continue
    const [z0, z1, z2] = [frame - 2, frame - 1, frame].map((at) => zoomOf(path.toReference(at) ?? NOWHERE))
    if (z0 * z1 * z2 > 0) seams.push({ frame, change: z2 / (2 * z1 - z0) - 1 })
  }
  return seams
}

/**
 * Returns the root mean square misfit of landmarks, what their errors make expected, and the share of frames with more
 * landmarks than needed.
 *
 * @param errors standard error of each landmark's marks, in pixels
 */
function misfitOf(
  path: SolvedPath,
  errors: ReadonlyMap<string, number>,
): Pick<CameraPath, 'misfit' | 'expectedMisfit' | 'redundancy'> {
  const { base, count, needed, anchors, places, toReference } = path
  let [square, expected, terms, redundant] = [0, 0, 0, 0]
  for (let frame = base + 1; frame < count; frame++) {
    const ids = seenIn(path, frame)
    const similarity = ids.length > needed ? toReference(frame) : null
    if (!similarity) continue
    redundant++
    // The path follows `needed / ids.length` of the variance of the landmarks' errors.
    for (const id of ids) expected += 2 * (1 - needed / ids.length) * errors.get(id)! ** 2
    const { forward } = similarityStep(similarity)
    for (const id of ids) {
      const at = forward(places.get(id)![frame]!)
      const anchor = anchors.get(id)!
      square += (at.x - anchor.x) ** 2 + (at.y - anchor.y) ** 2
      terms++
    }
  }
  const meanRoot = (sum: number) => (terms > 0 ? Math.sqrt(sum / terms) : 0)
  return {
    misfit: meanRoot(square),
    expectedMisfit: meanRoot(expected),
    redundancy: count - 1 > base ? redundant / (count - 1 - base) : 0,
  }
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
function landmarkError(landmark: MarkedLandmark): number {
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
