import type { Whiten } from './whitening.ts'

/**
 * Evaluates a model: writes its value at each point, and the derivative of each value with respect to each parameter.
 *
 * @param parameters length p
 * @param values written, length n
 * @param jacobian written, p arrays of length n: `jacobian[k][i]` is ∂(value i)/∂(parameter k); null where it is not needed
 */
export type Evaluate = (
  parameters: Float64Array,
  values: Float64Array,
  jacobian: Float64Array[] | null,
) => void

/** A nonlinear least-squares problem with n values and p parameters. */
export interface NonlinearProblem {
  y: ArrayLike<number>
  evaluate: Evaluate
  start: ArrayLike<number>
  /** Bounds of the parameters, length p each; unbounded where left out. */
  lower?: ArrayLike<number>
  upper?: ArrayLike<number>
  /** Indices of parameters in which the model is jointly linear. */
  linear?: readonly number[]
  /** Whether the model has kinks: the minimum can then lie at a kink, where the gradient is not zero. */
  hasCorners?: boolean
  /** Whitening, for values that are correlated or have different errors. */
  whiten?: Whiten
}

/** A converged nonlinear least-squares fit. */
export interface NonlinearFit {
  parameters: Float64Array
  /** (JᵀJ)⁻¹, p × p, to be multiplied by the variance of the values; 0 for parameters at a bound. */
  cofactors: Float64Array[]
  /** Sum of the squared (whitened) residuals. */
  rss: number
  /** Effective number of points minus the number of parameters that are not at a bound. */
  freedom: number
  /** Values minus model values, not whitened; length n. */
  residuals: Float64Array
  /** Number of accepted steps. */
  iterations: number
  /** Whether each parameter lies on one of its bounds. */
  atBound: boolean[]
}
