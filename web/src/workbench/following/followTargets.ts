import { landmarkAt, type Point } from '@apokinema/core/geometry'
import { framesInUse, type Investigation, inOrder } from '@apokinema/core/investigation'
import { clockOf } from '@apokinema/core/scene'
import { defaultWay, type FollowWay } from '../followWays.ts'
import { useFollowing } from './followStore.ts'

/** Returns the bodies that are followed from a frame: the active one, and others marked there that have an outline. */
export function followedFrom(
  investigation: Investigation,
  body: string,
  frame: number,
  together: boolean,
): string[] {
  const { by } = useFollowing.getState()
  const ready = (id: string) => {
    const { marks, outline, locked } = investigation.bodies[id]
    return (outline !== null || (id === body && by === 'colour')) && !locked && frame in marks
  }
  return Object.keys(investigation.bodies).filter((id) => ready(id) && (id === body || together))
}

/** Radius in pixels within which a landmark is followed. */
export const LANDMARK_RADIUS = 12

/** Returns the landmarks that can be followed from a frame, if the camera moves, with their positions. */
export function landmarksFrom(investigation: Investigation, frame: number): { id: string; at: Point }[] {
  const { camera } = investigation
  const seconds = clockOf(investigation)?.seconds
  if (camera.motion === 'still' || !seconds) return []
  return inOrder(camera.landmarks).flatMap(([id, landmark]) => {
    const at = landmarkAt({ id, ...landmark }, frame, seconds)
    return at ? [{ id, at: { x: at.x, y: at.y } }] : []
  })
}

/** Returns the default direction of following from the frame of the outline. */
export function defaultWayOf(investigation: Investigation, body: string, start: number): FollowWay {
  return defaultWay(investigation.bodies[body], framesInUse(investigation).list, start)
}

/** Returns the name of a body or landmark that is followed. */
export function nameOf({ bodies, camera }: Investigation, id: string): string {
  return bodies[id]?.name ?? camera.landmarks[id]?.name ?? ''
}
