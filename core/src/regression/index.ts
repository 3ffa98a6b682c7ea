export {
  fitRelation,
  type MeasuredPlaces,
  type Off,
  type OwnErrors,
  type Relation,
  type RelationFit,
  sharpest,
} from './errorsInBoth.ts'
export { FitError, leastSquares } from './leastSquares.ts'
export { applyMap, composedMap, type LinearMap, pickRows, rowProduct } from './linearMap.ts'
export {
  type Evaluate,
  fitNonlinear,
  linearParameters,
  type NonlinearFit,
  type NonlinearProblem,
} from './nonlinear.ts'
export { fitPolynomial, type PolynomialFit } from './polynomial.ts'
export { product, squares } from './product.ts'
export { FIVE_POINTS } from './quadrature.ts'
export { restBeside } from './restBeside.ts'
export { fitRobust, type RobustFit, type Robustness } from './robust.ts'
export { type Whiten, whitening, whiteningBy, whiteningInRow } from './whitening.ts'
