export {
  type AvailableModel,
  type AvailableModelGroup,
  availableModels,
  availableRelations,
  steadyModel,
} from './availableModels.ts'
export {
  type Comparison,
  compare,
  comparePair,
  covarianceOf,
  isMissed,
  type PairComparison,
} from './compare.ts'
export { type Doubt, doubtsOf, type Refit } from './doubts.ts'
export {
  combinedBySource,
  type ErrorPart,
  type ErrorSource,
  type Estimate,
  effectiveFreedom,
  estimate,
  halfWidth,
  shares,
} from './estimate.ts'
export { type ExpectedValue, expectedByExpression, gravityAt, STANDARD_GRAVITY } from './expected.ts'
export { fitColumn, fitColumns } from './fitColumn.ts'
export { fitPath } from './fitPath.ts'
export { fitRelationPoints, type RelationPoints } from './fitRelationPoints.ts'
export type {
  ColumnFit,
  FitSettings,
  Fitted,
  FittedParameter,
  Reading,
  ReadingSensitivity,
} from './fitResult.ts'
export { fitTex } from './fitTex.ts'
export { longestStretch } from './longestStretch.ts'
export { aicc, type Runs, runsTest } from './modelCriteria.ts'
export {
  curveThrough,
  type FreeForm,
  MODEL_GROUPS,
  MODELS,
  type Model,
  type ModelGroup,
  PLAIN,
  readFreeForm,
  symbolTex,
} from './models/index.ts'
export { type NamedReading, namedReadings } from './namedReadings.ts'
export { variableOf } from './settings.ts'
export { type SlowMotionHint, slowMotionHint } from './slowMotion.ts'
export { fitPoints } from './solve.ts'
export { type Moment, type StretchDetails, stretchDetails } from './stretchDetails.ts'
export { type StretchSummary, type SummaryValue, stretchSummary } from './stretchSummary.ts'
export { type Suggestion, type SuggestionVerdict, suggestModels } from './suggest.ts'
export { throwPath, throwReadings } from './throwReadings.ts'
