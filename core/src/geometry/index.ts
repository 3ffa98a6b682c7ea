export {
  type CameraPath,
  cameraPath,
  type Nudge,
  type Seam,
} from './camera.ts'
export { type FittedCircle, fitCircle } from './circle.ts'
export { cornerStrengths } from './cornerStrengths.ts'
export { type Homography, homographyStep } from './homography.ts'
export {
  followedLandmarkError,
  type LandmarkInfluence,
  type LandmarkPlace,
  landmarkAt,
  landmarkInfluences,
  type MarkedLandmark,
  markedFrames,
} from './landmarks.ts'
export { fitLens, LENS_LIMITS, type LensFit, lensStep } from './lens.ts'
export { type FittedLine, fitLine } from './lineFit.ts'
export {
  lineError,
  meanPlacingError,
  type PlacedByHand,
  type PlacingTool,
  placeOf,
  placingError,
  placingErrorOf,
  USUAL_PLACING,
} from './placing.ts'
export {
  type Corners,
  type CornerTrouble,
  cornerProblem,
  inCornerOrder,
  planeStep,
} from './plane.ts'
export { directionInPicture, distance, midpoint, type Point, smallerEigenvalue, wrapAngle } from './points.ts'
export {
  type CombinedScale,
  combineScales,
  type Depth,
  depthFactor,
  lineAngle,
  type Range,
  type ReferenceLength,
  referenceAngle,
  relativeScaleError,
  type Scale,
  type ScaleErrorPart,
  type ScaleErrorSource,
  scaleOf,
} from './scale.ts'
export {
  type Axes,
  type Calibration,
  type PlacedAxes,
  type SceneTransform,
  sceneTransform,
} from './scene.ts'
export {
  type CameraMotion,
  fitSimilarity,
  followedBy,
  POINTS_NEEDED,
  type Similarity,
  similarityStep,
  turnOf,
  UNMOVED,
  zoomOf,
} from './similarity.ts'
export { applied, enlargement, inTurn, inverse, type Matrix2, product, type Step } from './step.ts'
export { type Turn, turnedPoint, turnedRadii } from './turns.ts'
