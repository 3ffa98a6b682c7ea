import { type CameraMotion, POINTS_NEEDED } from '../geometry/index.ts'
import { edits, type Investigation, type Mutator, together } from '../investigation/index.ts'
import { type SeenMover, turnedMover } from '../survey/index.ts'
import { placeOfProposed, turnsOf } from './bodies.ts'

/** Standard error in pixels with which a survey tells where a fixed spot is: following them tells it better. */
const SPOT_ERROR = 1

/**
 * Returns the mutator that says what the camera did and marks fixed spots of the scene as its landmarks, in one frame, from which they
 * are followed with the first body. Only the camera's answer where there are landmarks already, or too few spots.
 *
 * @param spots of the survey
 * @param ids for the landmarks, as many as there are spots
 */
export function takeCamera(
  investigation: Investigation,
  motion: CameraMotion,
  spots: readonly SeenMover[],
  frame: number,
  ids: readonly string[],
): Mutator {
  const answer = edits.setCameraMotion(motion)
  const { footage, camera } = investigation
  const hasLandmarks = Object.keys(camera.landmarks).length > 0
  if (!footage || hasLandmarks || spots.length < POINTS_NEEDED[motion]) return answer
  const places = spots.flatMap(
    (spot) => placeOfProposed(turnedMover(spot, turnsOf(investigation), footage), frame) ?? [],
  )
  if (places.length < POINTS_NEEDED[motion]) return answer
  return together(
    answer,
    ...places.map((place, i) => edits.addLandmark(ids[i], frame, { ...place, error: SPOT_ERROR })),
  )
}
