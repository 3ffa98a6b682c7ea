import { type CameraMotion, POINTS_NEEDED, type Point } from '../geometry/index.ts'
import { edits, type Investigation, type Mutator, together } from '../investigation/index.ts'
import { type SeenMover, turnedMover } from '../survey/index.ts'
import { placeOfProposed, turnsOf } from './bodies.ts'

/** Standard error in pixels with which a survey tells where a fixed spot is: following them tells it better. */
const SPOT_ERROR = 1

/**
 * Returns where fixed spots of the scene become landmarks in a frame when it is said what the camera did; none where there are landmarks
 * already, or fewer spots than that takes.
 *
 * @param spots of the survey
 */
export function landmarkPlaces(
  investigation: Investigation,
  motion: 'still' | CameraMotion,
  spots: readonly SeenMover[],
  frame: number,
): Point[] {
  const { footage, camera } = investigation
  if (!footage || motion === 'still' || Object.keys(camera.landmarks).length > 0) return []
  const places = spots.flatMap(
    (spot) => placeOfProposed(turnedMover(spot, turnsOf(investigation), footage), frame) ?? [],
  )
  return places.length < POINTS_NEEDED[motion] ? [] : places
}

/**
 * Returns the mutator that says what the camera did and marks its landmarks in one frame (`landmarkPlaces`), from which they are followed
 * with the first body.
 *
 * @param ids for the landmarks, as many as there are spots
 */
export function takeCamera(
  investigation: Investigation,
  motion: 'still' | CameraMotion,
  spots: readonly SeenMover[],
  frame: number,
  ids: readonly string[],
): Mutator {
  const places = landmarkPlaces(investigation, motion, spots, frame)
  return together(
    edits.setCameraMotion(motion),
    ...places.map((place, i) => edits.addLandmark(ids[i], frame, { ...place, error: SPOT_ERROR })),
  )
}
