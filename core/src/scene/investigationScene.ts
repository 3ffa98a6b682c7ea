import type { CameraPath, CombinedScale, Nudge, SceneTransform, Step } from '../geometry/index.ts'
import type { LengthUnit } from '../units/index.ts'
import type { AxesError, AxesInScene } from './axesErrors.ts'

/** The map from the pictures of an investigation to its scene, in the axes that lengths are measured in. */
export interface InvestigationScene {
  /** Returns the transform of a frame's picture; null where the landmarks do not determine the camera. */
  at(frame: number): SceneTransform | null
  /** Returns the transform of a frame with a landmark moved in it, for error propagation. */
  nudged(frame: number, nudge: Nudge): SceneTransform | null
  /** Metres per pixel of the base picture, with a plane at its middle; null without a scale. */
  scale: CombinedScale | null
  length: LengthUnit
  camera: CameraPath | null
  plane: Step | null
  axes: AxesInScene
  axesErrors: AxesError[]
}
