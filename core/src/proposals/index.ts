export {
  convincingOutline,
  framesSeen,
  frameToFollowFrom,
  isCameraAsked,
  isNearEnd,
  outlineToFollow,
  type ProposedBody,
  placeOfProposed,
  proposedBodies,
} from './bodies.ts'
export {
  type BodyProposals,
  bodyProposals,
  openStretches,
  type SteadiedBody,
  steadiedBody,
} from './bodyProposals.ts'
export { type FitIds, type ProposedFit, proposedFits, proposedReading, takeFit } from './graphFits.ts'
export { landmarkPlaces, takeCamera } from './landmarks.ts'
export { isLeaning, openAxes, type ProposedAxes, takeAxes } from './motionAxes.ts'
export type { ProposedStretch, StretchEnd, StretchLaw } from './stretches.ts'
