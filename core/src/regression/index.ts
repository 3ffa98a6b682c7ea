export { chiSquareBeyond, studentBeyond, studentQuantile } from './distributions.ts'
export {
  fitRelation,
  type ImplicitValue,
  type MeasuredPoints,
  maxCurvature,
  type PointCovariance,
  type Relation,
  type RelationFit,
} from './errorsInVariables.ts'
export { FitError, type FitProblem } from './fitError.ts'
export { leastSquares } from './leastSquares.ts'
export { applyMap, composedMap, type LinearMap, pickRows, rowProduct } from './linearMap.ts'
export { linearParameters } from './linearParameters.ts'
export { fitNonlinear } from './nonlinear.ts'
export type { Evaluate, NonlinearFit, NonlinearProblem } from './nonlinearProblem.ts'
export { fitPolynomial, type PolynomialFit } from './polynomial.ts'
export { FIVE_POINTS } from './quadrature.ts'
export { residualSumOfSquares } from './residualSumOfSquares.ts'
export { fitRobust, type RobustFit, type Robustness } from './robust.ts'
export { dotProduct, sumOfSquares } from './vectorMath.ts'
export { autoregressiveWhitening, diagonalWhitening, linearMapWhitening, type Whiten } from './whitening.ts'
