import {
  type Background,
  ColourFollower,
  colourReach,
  Follower,
  GuidedFollower,
  type Plane,
  type Rect,
  templateReach,
} from '@apokinema/core/following'
import type { LumaFrame } from '../lumaFrames.ts'
import type { FollowedBody, FollowTask } from './followTask.ts'

/** A body that is being followed. */
export interface BodyRun {
  id: string
  guided: GuidedFollower
  byColour: boolean
  withChroma: boolean
}

/** Reads what a follower needs of a frame: colours, or brightness with colour differences if the background has them. */
export const readFor = (
  frame: LumaFrame,
  { byColour, withChroma }: Pick<BodyRun, 'byColour' | 'withChroma'>,
  rect: Rect,
): Promise<Plane> => (byColour ? frame.readColours(rect) : frame.read(rect, withChroma))

/** Learns a body in the frame in which it is outlined. */
export async function beginBodyRun(
  frame: LumaFrame,
  { id, at, outline, before }: FollowedBody,
  { start, seconds, picture, frameSeconds, settings, patience }: FollowTask,
  background: Background | null,
): Promise<BodyRun> {
  const byColour = outline === null
  const withChroma = background !== null
  const reach = outline ? templateReach(at, outline) : colourReach(at)
  const plane = await readFor(frame, { byColour, withChroma }, reach)
  const time = seconds[start]
  const follower = outline
    ? new Follower(plane, at, time, outline, background, picture, frameSeconds, settings, before)
    : new ColourFollower(plane, at, time, picture, settings, before)
  return { id, byColour, withChroma, guided: new GuidedFollower(follower, patience, frameSeconds) }
}
