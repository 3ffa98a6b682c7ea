export { type Agreement, type SeriesMean, seriesMean } from './mean.ts'
export type { SharedEffect, TrialValue } from './trialValue.ts'
