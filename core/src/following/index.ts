export { type Background, backgroundOf } from './background.ts'
export { ColourFollower, type ColourPlane, colourReach } from './byColour.ts'
export { Follower } from './follower.ts'
export {
  type Chroma,
  type Grid,
  gridLike,
  gridOf,
  halvedRect,
  overlap,
  type Plane,
  partOf,
  pyramid,
  type Rect,
  valueAt,
} from './grid.ts'
export { type FollowQuestion, GuidedFollower, type GuidedOutcome } from './guided.ts'
export { type Other, searchGroups } from './others.ts'
export {
  centroidOf,
  cornersOf,
  DIRECTIONS,
  footOf,
  grownOutline,
  type Outline,
  OutlineError,
  type OutlineProblem,
  outlineArea,
  outlineReach,
  pulledOutline,
  RADII,
  recentredOutline,
  roundOutline,
  sizeOf,
} from './outline.ts'
export { PREDICTIONS, type PredictionName, Predictor } from './predict.ts'
export { settledCentre } from './settledCentre.ts'
export type { Following, FollowSettings, Reach, Sighting } from './sighting.ts'
export { templateReach } from './template.ts'
export { CHANGES, type Change } from './templateMatcher.ts'
