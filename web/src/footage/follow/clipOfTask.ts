import { framesInUse, type Investigation, pictureSize } from '@apokinema/core/investigation'
import { spreadAperiodically } from '@apokinema/core/pictures'
import { type Clock, median } from '@apokinema/core/time'
import type { FollowTask } from './followTask.ts'

/** Number of frames from which the background is learned: spread over the span, so that a body is at one place in few of them. */
const STILL_FRAMES = 21

/** Returns the frames from which the background is learned; none where the camera moves. */
export function stillFrames(investigation: Investigation): number[] {
  if (investigation.camera.motion !== 'still') return []
  return spreadAperiodically(framesInUse(investigation).list, STILL_FRAMES)
}

/** Returns what a task to follow says of the clip. */
export function clipOfTask(
  investigation: Investigation,
  { seconds }: Clock,
): Pick<FollowTask, 'seconds' | 'frameSeconds' | 'orientation' | 'picture' | 'still'> {
  const steps = Array.from({ length: seconds.length - 1 }, (_, i) => seconds[i + 1] - seconds[i])
  return {
    seconds,
    frameSeconds: median(steps),
    orientation: investigation.orientation,
    picture: pictureSize(investigation),
    still: stillFrames(investigation),
  }
}
