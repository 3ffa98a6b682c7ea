import { centroidOf, footOf, type Outline, outlineArea, recentredOutline } from '../following/index.ts'
import { distance, type Point, type Turn } from '../geometry/index.ts'
import { type Body, framesOf, type Investigation, refusalsOf } from '../investigation/index.ts'
import {
  type CameraSurvey,
  type ProposedCamera,
  proposedCamera,
  type SeenMover,
  turnedMover,
} from '../survey/index.ts'

/** Something that moves and that nobody has marked or refused yet. */
export interface ProposedBody {
  /** Where its middle was seen, by increasing frame, in pixels of the picture; frames in between may be missing. */
  path: readonly ({ frame: number } & Point)[]
  /** Where it is seen best, and its outline there. */
  best: { frame: number } & Point
  outline: Outline
}

/** Returns true if a survey says that the camera moved where the document says that it stood still, or the reverse, unless that was refused. */
export const isCameraAsked = (investigation: Investigation, motion: ProposedCamera): boolean =>
  (investigation.camera.motion === 'still') !== (motion === 'still') &&
  refusalsOf(investigation, 'camera').length === 0

/** What a survey says of moving things. */
interface Surveyed {
  movers: readonly SeenMover[]
  camera: CameraSurvey | null
}

/**
 * Returns the movers of a survey that are proposed as bodies, the most convincing first; none while it is open what a camera did that
 * seems to have moved: that is asked first, so that the landmarks are there when a body is followed.
 */
export function proposedBodies(investigation: Investigation, { movers, camera }: Surveyed): ProposedBody[] {
  const { footage, bodies } = investigation
  if (!footage) return []
  const motion = camera ? proposedCamera(camera) : 'still'
  if (motion !== 'still' && isCameraAsked(investigation, motion)) return []
  const refused = refusalsOf(investigation, 'body')
  return movers
    .map((mover) => turnedMover(mover, turnsOf(investigation), footage))
    .map(({ path, best, outline }) => ({ path, outline, best: path.find(({ frame }) => frame === best)! }))
    .filter((proposed) => !refused.some((at) => isThere(proposed, at.frame, at)))
    .filter((proposed) => !Object.values(bodies).some((body) => isMarked(proposed, body)))
}

/** Returns the turns from the picture that the file shows to the one that is worked on. */
export const turnsOf = ({ orientation }: Investigation): Turn[] => [
  ...(orientation.mirrored ? (['mirror'] as const) : []),
  ...Array<Turn>(orientation.quarterTurns).fill('right'),
]

/** Returns the first and the last frame in which a proposed body was seen. */
export function framesSeen({ path }: ProposedBody): { first: number; last: number } {
  return { first: path[0].frame, last: path[path.length - 1].frame }
}

/** Returns the frame from which a proposed body is followed: of the frames in use the nearest to where it is seen best; null if it is seen in none. */
export function frameToFollowFrom(proposed: ProposedBody, used: readonly number[]): number | null {
  const { first, last } = framesSeen(proposed)
  const away = (frame: number) => Math.abs(frame - proposed.best.frame)
  return used
    .filter((frame) => frame >= first && frame <= last)
    .reduce<number | null>((near, frame) => (near === null || away(frame) < away(near) ? frame : near), null)
}

/** Returns where the middle of a proposed body is in a frame, between sightings on a straight line; null before and after them. */
export function placeOfProposed({ path }: Pick<ProposedBody, 'path'>, frame: number): Point | null {
  const i = path.findIndex((one) => one.frame >= frame)
  if (i < 0) return null
  const after = path[i]
  if (after.frame === frame) return { x: after.x, y: after.y }
  if (i === 0) return null
  const before = path[i - 1]
  const share = (frame - before.frame) / (after.frame - before.frame)
  return { x: before.x + share * (after.x - before.x), y: before.y + share * (after.y - before.y) }
}

/** Ratio of the areas of an outline that is grown and of what was seen to move, up to which the former is taken. */
const ALIKE = 2.5

/** Returns the outline that was grown around something, unless its area is not like that of the outline in which it was seen. */
export function convincingOutline(
  { outline: seen }: Pick<ProposedBody, 'outline'>,
  grown: Outline | null,
): Outline {
  const ratio = grown ? outlineArea(grown) / outlineArea(seen) : 0
  return grown && ratio < ALIKE && ratio > 1 / ALIKE ? grown : seen
}

/**
 * Returns the outline by which a proposed body is followed, relative to the point that its marks are placed at, and by how much that point
 * is shifted from where the body was seen: the centroid of the outline, or its foot where the plane of motion is seen at an angle, since
 * what stands above that plane appears farther away on it.
 *
 * @param grown outline that was grown where the body was seen; it is taken unless it is of a part of it or of the wall behind it. Null if
 *   there is none
 */
export function outlineToFollow(
  { outline: seen }: ProposedBody,
  grown: Outline | null,
  isOblique: boolean,
): { outline: Outline; by: Point } {
  const outline = convincingOutline({ outline: seen }, grown)
  const by = isOblique ? footOf(outline) : centroidOf(outline)
  const moved = recentredOutline(outline, by)
  return moved ? { outline: moved, by } : { outline, by: { x: 0, y: 0 } }
}

/** Share of the frames in which a proposed body was seen, at their end, in which it may get lost without a question. */
const TAIL = 0.3

/** Returns true if a proposed body was not seen for much longer than up to a frame, in the direction of following. */
export function isNearEnd(
  frame: number,
  { first, last }: { first: number; last: number },
  way: 'on' | 'back',
): boolean {
  const tail = TAIL * (last - first)
  return way === 'on' ? frame > last - tail : frame < first + tail
}

/** Returns true if a proposed body covers a point in a frame. */
function isThere(proposed: ProposedBody, frame: number, at: Point): boolean {
  const place = placeOfProposed(proposed, frame)
  return place !== null && distance(place, at) <= Math.max(...proposed.outline.radii)
}

/** Returns true if most marks of a body in the frames of a proposed one lie on it. */
function isMarked(proposed: ProposedBody, body: Body): boolean {
  const { first, last } = framesSeen(proposed)
  const within = framesOf(body).filter((frame) => frame >= first && frame <= last)
  const met = within.filter((frame) => isThere(proposed, frame, body.marks[frame]))
  return met.length > within.length / 2
}
