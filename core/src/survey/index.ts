export {
  CameraFollower,
  type CameraSurvey,
  cameraStep,
  type ProposedCamera,
  proposedCamera,
} from './cameraMotion.ts'
export { type Difference, differenceOf } from './difference.ts'
export { filmedMovers } from './filmedMovers.ts'
export { edgeWidth, edgeWidthAround, type Light, lightOf } from './light.ts'
export { type Luma, lumaOfColours, shrink, surveyFactor } from './luma.ts'
export { fastestSpeed, findMotion, type MotionRange } from './motionRange.ts'
export type { SmallPicture } from './moverMask.ts'
export type { Mover } from './movers.ts'
export { type FoundRepeats, findRepeats, repeatThreshold } from './repeats.ts'
export { type SeenMover, type SurveyedClip, seenMover, turnedMover } from './seenMovers.ts'
export { backgroundShift } from './shake.ts'
export { type Finding, type SurveyFacts, verdictOn } from './verdict.ts'
