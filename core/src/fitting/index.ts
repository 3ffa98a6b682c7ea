export { type Comparison, compare } from './compare.ts'
export {
  type ErrorPart,
  type ErrorSource,
  type Estimate,
  effectiveFreedom,
  estimate,
  halfWidth,
  shares,
} from './estimate.ts'
export { type ColumnFit, type FittedParameter, fitColumn, type Reading } from './fitColumn.ts'
export { type FreeForm, fitFreeForm, readFreeForm } from './freeForm.ts'
export { aicc, type Runs, runsTest } from './judged.ts'
export { MODELS, type Model } from './models/index.ts'
export { readoutEffect } from './readoutEffect.ts'
export { type SlowMotionHint, slowMotionHint } from './slowMotion.ts'
export { type Moment, type StretchDetails, stretchDetails } from './stretchDetails.ts'
export { type StretchSummary, stretchSummary, type Told } from './stretchSummary.ts'
export { studentQuantile } from './student.ts'
export { fitSwing, type SwingFit } from './swing.ts'
