export * as seriesEdits from './document/edits.ts'
export { checkSeries, SERIES_LIMITS } from './document/schema.ts'
export {
  AXES_RULES,
  type AxesRule,
  type ColumnContent,
  type Measuring,
  type MeasuringQuestion,
  newSeries,
  SERIES_VERSION,
  type Series,
  type SeriesColumn,
  type SeriesFit,
  type SeriesGraph,
  type Trial,
  type TrialSource,
  type TrialView,
  type Typed,
} from './document/series.ts'
export { readSeries } from './document/versions.ts'
export { fitTrials, type TrialColumn, type TrialFit } from './fitTrials.ts'
export { type Agreement, type SeriesMean, seriesMean } from './mean.ts'
export { newTrial } from './newTrial.ts'
export { outlyingResiduals } from './outliers.ts'
export { SeriesAnalysis, type ShownSeriesFit, type TrialPoint } from './seriesAnalysis.ts'
export {
  type Cell,
  type CellTrouble,
  SeriesTable,
  type TableColumn,
  type TableTrial,
  type TrialGroup,
} from './seriesTable.ts'
export { axesRuleOf, type Settled, settleTrial } from './settleTrial.ts'
export { viewGroup } from './sharing.ts'
export { type NumberTrouble, type TrialNumber, trialNumber } from './trialNumber.ts'
export { type SharedEffect, type TrialValue, totalError } from './trialValue.ts'
