import { MAD_TO_DEVIATION, median } from '../time/index.ts'
import { FitError } from './fitError.ts'
import { fitNonlinear } from './nonlinear.ts'
import type { NonlinearFit, NonlinearProblem } from './nonlinearProblem.ts'
import { QrFactor } from './qrFactor.ts'
import { sumOfSquares } from './vectorMath.ts'

/** How outliers are downweighted: gradually (Huber), or completely (Tukey's bisquare). */
export type Robustness = 'huber' | 'bisquare'

/** A fit in which outliers count less. */
export interface RobustFit extends NonlinearFit {
  /** Variance by which the cofactors are to be multiplied. */
  variance: number
  /** Weight of each point, 0 … 1, length n. */
  weights: Float64Array
}

/** ψ(u)/u and ψ′(u) of standardised residuals u, with tuning constants for 95 % efficiency on normal noise. */
const WEIGHT_FUNCTIONS: Record<
  Robustness,
  { weight: (u: number) => number; derivative: (u: number) => number }
> = {
  huber: {
    weight: (u) => Math.min(1, 1.345 / Math.abs(u)),
    derivative: (u) => (Math.abs(u) < 1.345 ? 1 : 0),
  },
  bisquare: {
    weight: (u) => (Math.abs(u) < 4.685 ? (1 - (u / 4.685) ** 2) ** 2 : 0),
    derivative: (u) => {
      const square = (u / 4.685) ** 2
      return square < 1 ? (1 - square) * (1 - 5 * square) : 0
    },
  },
}
const MAX_ITERATIONS = 200
/** Iterations in which the scale is estimated anew; later it is kept, so that the weights converge. */
const SCALE_ITERATIONS = 10
/** The iteration ends once no weight changes by more than this. */
const CONVERGED = 1e-8

/**
 * M-estimation by iteratively reweighted least squares (Holland and Welsch, Commun. Statist. A 6 (1977) 813), with Huber's
 * weights or, starting from that fit, with Tukey's bisquare. The scale is the median absolute residual without the p smallest
 * ones, times 1.4826. The variance is Huber's (Robust Statistics, 1981, section 7.6).
 *
 * @throws FitError as `fitNonlinear` does, and if the weights do not converge
 */
export function fitRobust(problem: NonlinearProblem, kind: Robustness): RobustFit {
  const { y, start, whiten, evaluate } = problem
  const n = y.length
  const p = start.length
  let fit: NonlinearFit = kind === 'huber' ? fitNonlinear(problem) : fitRobust(problem, 'huber')
  const white = (values: Float64Array) => (whiten ? whiten(values) : values)
  let weights = new Float64Array(n).fill(1)
  const scaleOf = ({ residuals }: NonlinearFit) =>
    MAD_TO_DEVIATION * median(white(residuals).map(Math.abs).sort().subarray(p))
  let scale = scaleOf(fit)
  const standardised = ({ residuals }: NonlinearFit) =>
    white(residuals).map((one) => (scale > 0 ? one / scale : 0))
  for (let iteration = 0; ; iteration++) {
    if (iteration < SCALE_ITERATIONS) scale = scaleOf(fit)
    const next = standardised(fit).map(WEIGHT_FUNCTIONS[kind].weight)
    const change = next.reduce((most, weight, i) => Math.max(most, Math.abs(weight - weights[i])), 0)
    weights = next
    if (iteration > 0 && change < CONVERGED) break
    if (iteration === MAX_ITERATIONS) throw new FitError({ code: 'weights-not-converged' })
    const roots = weights.map(Math.sqrt)
    const weighed = (values: Float64Array) => white(values).map((value, i) => roots[i] * value)
    const transposed = (values: Float64Array) => {
      const own = values.map((value, i) => roots[i] * value)
      return whiten ? whiten.transposed(own) : own
    }
    fit = fitNonlinear({
      ...problem,
      start: fit.parameters,
      whiten: Object.assign(weighed, { rank: whiten?.rank ?? n, transposed }),
    })
  }

  const jacobian = Array.from({ length: p }, () => new Float64Array(n))
  evaluate(fit.parameters, new Float64Array(n), jacobian)
  const free = Array.from({ length: p }, (_, k) => k).filter((k) => !fit.atBound[k])
  const whitenedResiduals = white(fit.residuals)
  const cofactors = new QrFactor(p, n)
    .factorise(jacobian.map(white), whitenedResiduals, free)
    .cofactors(free, p)
  const u = standardised(fit)
  const { weight, derivative } = WEIGHT_FUNCTIONS[kind]
  const psiSquares = u.reduce((sum, one) => sum + (one * weight(one)) ** 2, 0)
  const meanDerivative = u.reduce((sum, one) => sum + derivative(one), 0) / n
  const derivativeVariance = u.reduce((sum, one) => sum + (derivative(one) - meanDerivative) ** 2, 0) / n
  const correction = 1 + (free.length / n) * (derivativeVariance / meanDerivative ** 2)
  const variance =
    (correction ** 2 * scale ** 2 * (psiSquares / Math.max(1, fit.freedom))) / meanDerivative ** 2
  return { ...fit, cofactors, variance, weights, rss: sumOfSquares(whitenedResiduals) }
}
