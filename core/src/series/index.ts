export { fitTrials, type TrialColumn, type TrialFit } from './fitTrials.ts'
export { type Agreement, type SeriesMean, seriesMean } from './mean.ts'
export type { SharedEffect, TrialValue } from './trialValue.ts'
