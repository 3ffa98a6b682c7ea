import {
  type LandmarkPlace,
  landmarkAt,
  landmarkError,
  type MarkedLandmark,
  markedFrames,
} from './landmarks.ts'
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

/** A transition from one set of landmarks to another. */
export interface Seam {
  frame: number
  /** By what share the picture's scale jumps there, against how it went on in the two frames before. */
  change: number
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
