export {
  type AlignedMotion,
  alignedMotions,
  type MotionLeftOut,
  type MotionTrouble,
} from './alignedMotions.ts'
export { atInstants } from './atInstants.ts'
export * as seriesEdits from './document/edits.ts'
export { checkSeries, SERIES_LIMITS } from './document/schema.ts'
export {
  type Alignment,
  AXES_RULES,
  type AxesRule,
  type ColumnContent,
  type MeasuredSeries,
  type Measuring,
  type MeasuringQuestion,
  newSeries,
  patternIdOf,
  SERIES_VERSION,
  type Series,
  type SeriesColumn,
  type SeriesFit,
  type SeriesGraph,
  type SeriesMotion,
  type Trial,
  type TrialSource,
  type TrialView,
  type Typed,
} from './document/series.ts'
export { readSeries } from './document/versions.ts'
export { fitTrials, type TrialColumn, type TrialFit } from './fitTrials.ts'
export { type KeptNumbers, keepNumbers, noteNumbers, readNumbers } from './keptNumbers.ts'
export { type Agreement, type SeriesMean, seriesMean } from './mean.ts'
export { isSetUp, newTrial, setUpLike } from './newTrial.ts'
export { outlyingResiduals } from './outliers.ts'
export { pictureStep } from './pictureStep.ts'
export {
  comparedOf,
  type DifferingTrial,
  readingLookedAt,
  SeriesAnalysis,
  type ShownSeriesFit,
  type TrialPoint,
} from './seriesAnalysis.ts'
export {
  type Cell,
  type CellTrouble,
  type NumbersByTrial,
  SeriesTable,
  type TableColumn,
  type TableTrial,
  type TrialGroup,
} from './seriesTable.ts'
export { differingParts, SETTINGS_PARTS, type SettingsPart, takeOverParts } from './settings.ts'
export { axesRuleOf, type Settled, settleTrial } from './settleTrial.ts'
export { viewGroup } from './sharing.ts'
export { type NumberTrouble, type TrialNumber, trialNumber } from './trialNumber.ts'
export { differenceOf, type SharedEffect, type TrialValue, totalError } from './trialValue.ts'
