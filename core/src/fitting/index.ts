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
export { type ColumnFit, type FittedParameter, fitColumn, type Reading, stretchRows } from './fitColumn.ts'
export { FitError } from './leastSquares.ts'
export { MODELS, type Model } from './models/index.ts'
export { fitPolynomial, type PolynomialFit } from './polynomial.ts'
export { readoutEffect } from './readoutEffect.ts'
export { type SlowMotionHint, slowMotionHint } from './slowMotion.ts'
export { type StretchSummary, stretchSummary } from './stretchSummary.ts'
export { studentQuantile } from './student.ts'
export { type Whiten, whitening } from './whitening.ts'
