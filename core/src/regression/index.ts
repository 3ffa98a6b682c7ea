export { FitError, leastSquares } from './leastSquares.ts'
export { applyMap, type LinearMap, pickRows, rowProduct } from './linearMap.ts'
export { fitPolynomial, type PolynomialFit } from './polynomial.ts'
export { type Whiten, whitening } from './whitening.ts'
