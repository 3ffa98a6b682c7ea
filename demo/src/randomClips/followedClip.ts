import {
  type Background,
  backgroundOf,
  Follower,
  GuidedFollower,
  grownOutline,
  OutlineError,
  outlineReach,
  type Plane,
  partOf,
  templateReach,
} from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'
import { spreadAperiodically } from '@apokinema/core/pictures'
import { inPicture } from '../samples/index.ts'
import { chooser } from './chooser.ts'
import type { EncodedClip } from './encodedClip.ts'
import type { RandomClip } from './randomClip.ts'

/** What following made of one frame. */
export interface FollowedFrame {
  frame: number
  truth: Point
  /** Share of the body that can be seen. */
  seen: number
  /** Where it was marked; null where it was not. */
  at: Point | null
  certainty: number
  byOutline: boolean
  /** Whether a person was asked in this frame. */
  isAsked: boolean
}

/** Frames from which the background is learned, as the page does. */
const STILL_FRAMES = 21
/** Settings that the page has as long as nobody changes them. */
const SETTINGS = { persistence: 0.5, change: 'slowly' } as const
const PATIENCE = 2
/** Standard error of the click that starts following, in pixels. */
const CLICK = 0.3
/** A person shows the body where at least this share of it can be seen; else says that it is hidden. */
const SHOWN = 0.5

const truthAt = (clip: RandomClip, frame: number): Point =>
  inPicture(clip.view, clip.bodies[0].pose(frame / clip.rate))

/** Returns the first frame in which the whole body can be seen, or as much of it as ever. */
function firstSeen(clip: RandomClip): number {
  let [best, most] = [0, 0]
  for (let frame = 0; frame < clip.frames && most < 0.999; frame++) {
    const seen = clip.seen(frame / clip.rate)
    if (seen > most) [best, most] = [frame, seen]
  }
  return best
}

/** Learns what was clicked; null if nothing stands out there, as a person would be told. */
function learned(clip: RandomClip, plane: Plane, at: Point, time: number, background: Background) {
  try {
    const outline = grownOutline(partOf(plane, outlineReach(at)), at, background)
    const part = partOf(plane, templateReach(at, outline))
    const follower = new Follower(part, at, time, outline, background, clip, 1 / clip.rate, SETTINGS)
    return new GuidedFollower(follower, PATIENCE, 1 / clip.rate)
  } catch (error) {
    if (error instanceof OutlineError) return null
    throw error
  }
}

/** Returns the background of a clip, of frames that are spread over it. */
async function backgroundIn(clip: RandomClip, encoded: EncodedClip): Promise<Background> {
  const all = Array.from({ length: clip.frames }, (_, frame) => frame)
  const wanted = new Set(spreadAperiodically(all, STILL_FRAMES))
  const planes: Plane[] = []
  let index = 0
  for await (const plane of encoded.frames()) if (wanted.has(index++)) planes.push(plane)
  return backgroundOf(planes)
}

/**
 * Follows the body of a clip with one click in the first frame that shows the whole of it, and answers questions as a
 * person would.
 */
export async function followedClip(clip: RandomClip, encoded: EncodedClip): Promise<FollowedFrame[]> {
  const background = await backgroundIn(clip, encoded)
  const start = firstSeen(clip)
  const { between } = chooser(clip.seed + 1)
  const found: FollowedFrame[] = []
  let guided: GuidedFollower | null = null
  let index = -1
  for await (const plane of encoded.frames()) {
    index++
    const frame = index
    if (frame < start) continue
    const time = frame / clip.rate
    const truth = truthAt(clip, frame)
    const seen = clip.seen(time)
    if (frame === start) {
      const at = {
        x: truth.x + CLICK * between(-1.7, 1.7),
        y: truth.y + CLICK * between(-1.7, 1.7),
      }
      guided = learned(clip, plane, at, time, background)
      continue
    }
    if (!guided) {
      found.push({ frame, truth, seen, at: null, certainty: 0, byOutline: false, isAsked: false })
      continue
    }
    const outcome = await guided.search((rect) => partOf(plane, rect), time)
    const isFound = outcome.kind === 'found'
    found.push({
      frame,
      truth,
      seen,
      at: isFound ? outcome.at : null,
      certainty: isFound ? outcome.certainty : 0,
      byOutline: isFound && outcome.byOutline,
      isAsked: outcome.kind === 'question',
    })
    if (outcome.kind === 'left') break
    if (outcome.kind !== 'question') continue
    if (seen < SHOWN) guided.lookOn(time)
    else guided.show(partOf(plane, guided.follower.showReach(truth)), time, truth)
  }
  return found
}
