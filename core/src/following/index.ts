export { type Background, backgroundOf } from './background.ts'
export { ColourFollower, type ColourPlane, colourReach } from './byColour.ts'
export {
  Follower,
  type Following,
  type FollowSettings,
  type Reach,
  type Sighting,
} from './follower.ts'
export { type Chroma, halvedRect, overlap, type Plane, partOf, type Rect } from './grid.ts'
export { type FollowQuestion, GuidedFollower, type GuidedOutcome } from './guided.ts'
export { type Other, searchGroups } from './others.ts'
export {
  DIRECTIONS,
  grownOutline,
  type Outline,
  OutlineError,
  type OutlineProblem,
  outlineReach,
  pulledOutline,
  RADII,
  recentredOutline,
  roundOutline,
  sizeOf,
} from './outline.ts'
export { PREDICTIONS, type PredictionName, Predictor } from './predict.ts'
export { templateReach } from './template.ts'
export { CHANGES, type Change } from './templateMatcher.ts'
