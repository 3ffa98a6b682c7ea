import {
  type CameraPath,
  type CombinedScale,
  type Corners,
  cameraPath,
  combineScales,
  distance,
  fitLens,
  type LensFit,
  lensStep,
  type Nudge,
  type Point,
  planeStep,
  type Scale,
  type SceneTransform,
  type Similarity,
  type Step,
  scaleOf,
  sceneTransform,
  similarityStep,
} from '../geometry/index.ts'
import {
  axesOf,
  type Camera,
  type Investigation,
  inOrder,
  type Lens,
  type PlacedPoint,
  type Plane,
  pictureSize,
  type Reference,
} from '../investigation/index.ts'
import { axesErrors, axesInScene } from './axesErrors.ts'
import { clockOf } from './clockOf.ts'
import type { InvestigationScene } from './investigationScene.ts'
import { planeScale, type SizedPlane } from './planeScale.ts'

/** Kept by the camera object, which an edit of anything else leaves as it is. */
const paths = new WeakMap<Camera, { seconds: Float64Array; path: CameraPath | null }>()

/** Returns the camera's motion from the landmarks; null for a still camera or without landmarks. */
export function cameraOf(investigation: Investigation): CameraPath | null {
  const { camera } = investigation
  const clock = clockOf(investigation)
  if (camera.motion === 'still' || !clock) return null
  let kept = paths.get(camera)
  if (kept?.seconds !== clock.seconds) {
    const landmarks = inOrder(camera.landmarks).map(([id, landmark]) => ({ id, ...landmark }))
    kept = { seconds: clock.seconds, path: cameraPath(landmarks, camera.motion, clock.seconds) }
    paths.set(camera, kept)
  }
  return kept.path
}

/** Kept by the lens object, which an edit of anything else leaves as it is. */
const lensFits = new WeakMap<Lens, LensFit | null>()

/** Returns the lens coefficient fitted to the straight edges; null if they don't determine one. */
export function lensFitOf(investigation: Investigation): LensFit | null {
  const { lens } = investigation
  if (!lens) return null
  let found = lensFits.get(lens)
  if (found === undefined) {
    const edges = Object.values(lens.edges).map((edge) => edge.points)
    found = fitLens(edges, pictureSize(investigation))
    lensFits.set(lens, found)
  }
  return found
}

/** Returns the lens coefficient, typed or fitted; null if distortion is not corrected. */
export function lensOf(investigation: Investigation): number | null {
  const { lens } = investigation
  return lens ? (lens.k1 ?? lensFitOf(investigation)?.k1 ?? null) : null
}

/** Everything of the calibration but the scale: what has to be known before lengths can be compared. */
interface Rectified {
  lens: Step | null
  camera: CameraPath | null
  /** Maps a placed point to the reference picture, without lens distortion; null where the landmarks don't determine the camera. */
  toReference(point: PlacedPoint): Point | null
}

function rectified(investigation: Investigation): Rectified {
  const camera = cameraOf(investigation)
  const k1 = lensOf(investigation)
  const lens = k1 === null ? null : lensStep(k1, pictureSize(investigation))
  const toReference = (placed: PlacedPoint) => {
    const undistorted = lens ? lens.forward(placed) : placed
    if (!camera) return undistorted
    const similarity = camera.toReference(placed.frame)
    return similarity && similarityStep(similarity).forward(undistorted)
  }
  return { lens, camera, toReference }
}

function planeOf(plane: Plane | null, { toReference }: Rectified): { step: Step; scale: Scale } | null {
  if (!plane?.width || !plane.height) return null
  const corners = plane.corners.map(toReference)
  if (corners.some((corner) => corner === null)) return null
  const step = planeStep(corners as Corners, plane.width, plane.height)
  return step && { step, scale: planeScale(corners as Corners, plane as SizedPlane) }
}

/** Returns the scale that a reference gives by itself, measured where the camera and the lens are undone. */
function scaleOfReference(reference: Reference, { toReference }: Rectified): Scale | null {
  const [a, b] = reference.ends.map(toReference)
  return a && b ? scaleOf(reference, distance(a, b)) : null
}

/** Returns the scene in pixels, without plane and scale, in some axes; null: the main ones. */
export type PixelScene = (axes: string | null) => InvestigationScene

/**
 * Composes the map from the pictures of an investigation to its scene: in metres as soon as a reference length, a known
 * motion or a plane gives a scale, in pixels until then.
 *
 * @param axesId id of the axes; null: the main ones
 * @param motionScales returns the scales that known motions give in the scene in pixels: they are read from tables, of
 *   which a scene knows nothing
 */
export function composeScene(
  investigation: Investigation,
  axesId: string | null,
  motionScales: (pixels: PixelScene) => Scale[],
): InvestigationScene {
  const rectification = rectified(investigation)
  const plane = planeOf(investigation.plane, rectification)
  const pixels: PixelScene = (id) => sceneIn(investigation, id, rectification, null, null)
  const references = inOrder(investigation.references)
    .filter(([, reference]) => reference.use === 'scale')
    .flatMap(([, reference]) => scaleOfReference(reference, rectification) ?? [])
  const scale = combineScales(plane ? [plane.scale] : [...references, ...motionScales(pixels)])
  return sceneIn(investigation, axesId, rectification, plane?.step ?? null, scale)
}

function sceneIn(
  investigation: Investigation,
  axesId: string | null,
  { lens, camera }: Rectified,
  plane: Step | null,
  scale: CombinedScale | null,
): InvestigationScene {
  const axes = axesOf(investigation, axesId)
  const similarity = (frame: number) => (camera ? camera.toReference(frame) : null)
  const metresPerPixel = scale?.metresPerPixel ?? null
  const placing = similarity(axes.origin.frame)
  const seenBy = (showing: Similarity | null): SceneTransform | null =>
    camera && (!placing || !showing)
      ? null
      : sceneTransform({ ...axes, camera: placing }, { lens, camera: showing, plane, metresPerPixel })
  const known = new Map<number, SceneTransform | null>()
  const at = (frame: number): SceneTransform | null => {
    // Without a moving camera one transform serves all frames.
    const key = camera ? frame : 0
    let transform = known.get(key)
    if (transform === undefined) {
      transform = seenBy(similarity(frame))
      known.set(key, transform)
    }
    return transform
  }
  const nudged = (frame: number, nudge: Nudge) => seenBy(camera?.toReference(frame, nudge) ?? null)
  const inScene = axesInScene(axes, at(axes.origin.frame))
  return {
    at,
    nudged,
    scale,
    length: scale ? 'm' : 'px',
    camera,
    plane,
    axes: inScene,
    axesErrors: axesErrors(axes, investigation.gravity, inScene),
  }
}

/**
 * Maps a placed point into the picture of another frame. Null if the landmarks don't determine the camera in one of
 * them.
 */
export function placeIn(
  scene: InvestigationScene,
  { frame: placed, ...point }: PlacedPoint,
  frame: number,
): Point | null {
  if (!scene.camera || placed === frame) return point
  const [from, to] = [scene.at(placed), scene.at(frame)]
  return from && to ? to.toPicture(from.toScene(point)) : null
}
