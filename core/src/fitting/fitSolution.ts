import { dotProduct, type NonlinearFit } from '../regression/index.ts'
import { driftFactor } from './driftFactor.ts'
import type { FitAssembly } from './fitAssembly.ts'
import type { FitSample } from './sample.ts'
import type { Member } from './stacked.ts'

/** One of the laws of a fit, as it was fitted. */
export interface SolutionMember extends Member {
  /** Index of its parameters among all parameters of the fit. */
  indices: readonly number[]
  /** Abscissa that its parameters refer to. */
  zero: number
  /** Values minus those of the law. */
  residuals: Float64Array
  /** Returns the values of the law at any abscissas, for all parameters of the fit. */
  valuesAt(parameters: ArrayLike<number>, places: ArrayLike<number>): Float64Array
  /** Returns its parameters in the form in which people know them. */
  shownParameters(parameters: ArrayLike<number>): number[]
}

/** A fit of one law, or of several with shared parameters; p parameters, n points of all members one after the other. */
export interface FitSolution {
  /** Length p. */
  parameters: Float64Array
  /** p × p, from the errors of the marks. */
  covariance: Float64Array[]
  points: number
  /** Number of independent points, and that number minus the number of parameters. */
  effectivePoints: number
  freedom: number
  /** Sum of the squared whitened residuals. */
  rss: number
  /** Factor by which a slow drift of the marks increases the variance of the parameters; 1 without drift. */
  varianceInflation: number
  /** `rss` over the degrees of freedom; null unless the errors of all points are known. */
  reducedChiSquare: number | null
  /** Length n. */
  whitenedResiduals: Float64Array
  /** Weights of the points in a robust fit; null in any other. */
  weights: Float64Array | null
  members: SolutionMember[]
  /**
   * Returns ∂(Σ weights[k] · parameter k)/∂(value i) for the points of each member.
   *
   * @param weights length p
   */
  pointInfluence(weights: ArrayLike<number>): Float64Array[]
  /** Factor by which the points scatter more than their errors predict (Birge ratio); 1 if the errors are not known. */
  birgeFactor: number
  /**
   * Returns the change of the parameters, length p, for a change of the values, to first order.
   *
   * @param changes for each member the change of each of its values
   */
  parameterShift(changes: readonly Float64Array[]): Float64Array
}

/** The result of minimising: `variance` is that of a robust fit, null otherwise. */
export interface Minimum {
  fit: NonlinearFit
  weights: Float64Array | null
  variance: number | null
}

/** Returns the fit with its covariance and residuals, from the minimum of its least-squares problem. */
export function summarise(assembly: FitAssembly, minimum: Minimum): FitSolution {
  const { members, sizes, offsets, points, parameterCount, whiten, problem } = assembly
  const { fit, weights } = minimum
  const roots = weights?.map(Math.sqrt)
  const weighted = (values: Float64Array) => (roots ? values.map((value, i) => value * roots[i]) : values)
  const whitened = (values: Float64Array) => {
    const one = whiten ? whiten(values) : values.slice()
    if (roots) for (let i = 0; i < one.length; i++) one[i] *= roots[i]
    return one
  }
  const jacobian = Array.from({ length: parameterCount }, () => new Float64Array(points))
  problem.evaluate(fit.parameters, new Float64Array(points), jacobian)
  const whitenedJacobian = jacobian.map(whitened)
  const varianceInflation = driftFactor(
    members.map(({ sample }, m) => {
      const section = (values: Float64Array) => weighted(values).subarray(offsets[m], offsets[m] + sizes[m])
      return {
        correlation: sample.driftCorrelation,
        errors: sample.errors,
        frames: sample.frames,
        residuals: section(fit.residuals),
        jacobian: jacobian.map(section),
      }
    }),
  )
  const scatter = minimum.variance ?? (fit.freedom > 0 ? fit.rss / fit.freedom : Number.NaN)
  const variance = varianceInflation * scatter
  const [smoothed] = members.flatMap(({ sample }) => sample.smoothed ?? [])
  const areErrorsKnown = members.every(
    ({ sample }) => sample.whiten && sample.errors.every((error) => error > 0),
  )
  return {
    parameters: fit.parameters,
    covariance:
      smoothed && members.length === 1
        ? smoothedCovariance(fit, jacobian, smoothed)
        : fit.cofactors.map((row) => row.map((one) => one * variance)),
    points,
    effectivePoints: whiten?.rank ?? points,
    freedom: smoothed ? smoothed.freedom : fit.freedom,
    rss: fit.rss,
    varianceInflation,
    weights,
    birgeFactor: areErrorsKnown && Number.isFinite(variance) ? Math.sqrt(variance) : 1,
    reducedChiSquare: areErrorsKnown && fit.freedom > 0 ? fit.rss / fit.freedom : null,
    whitenedResiduals: whitened(fit.residuals),
    members: members.map((_, m) => solutionMember(assembly, fit, m)),
    parameterShift: (changes) => {
      const all = new Float64Array(points)
      changes.forEach((change, m) => {
        all.set(change, offsets[m])
      })
      const change = whitened(all)
      const gradient = Float64Array.from(whitenedJacobian, (column) => dotProduct(column, change))
      return Float64Array.from(fit.cofactors, (row) => dotProduct(row, gradient))
    },
    pointInfluence: (ofParameters) => {
      const onWhitened = new Float64Array(points)
      fit.cofactors.forEach((_, k) => {
        const by = fit.cofactors.reduce((sum, row, j) => sum + ofParameters[j] * row[k], 0)
        if (by !== 0) for (let i = 0; i < points; i++) onWhitened[i] += by * whitenedJacobian[k][i]
      })
      if (roots) for (let i = 0; i < points; i++) onWhitened[i] *= roots[i]
      const all = whiten ? whiten.transposed(onWhitened) : onWhitened
      return sizes.map((size, m) => all.slice(offsets[m], offsets[m] + size))
    },
  }
}

function solutionMember(
  { members, indices, zeros, offsets, sizes }: FitAssembly,
  fit: NonlinearFit,
  m: number,
): SolutionMember {
  const { law, sample } = members[m]
  const zero = zeros[m]
  const ownOf = (parameters: ArrayLike<number>) => indices[m].map((place) => parameters[place])
  return {
    law,
    sample,
    indices: indices[m],
    zero,
    residuals: fit.residuals.slice(offsets[m], offsets[m] + sizes[m]),
    valuesAt: (parameters, places) => {
      const values = new Float64Array(places.length)
      const fromZero = Float64Array.from(places, (place) => place - zero)
      law.on(fromZero)(Float64Array.from(ownOf(parameters)), values, null)
      return values
    },
    shownParameters: (parameters) => law.toShown(ownOf(parameters), zero),
  }
}

/**
 * Returns the covariance of a fit to smoothed values, which have next to no degrees of freedom of their own: the variance of
 * the positions about the smooth curve, propagated through their linear map.
 */
function smoothedCovariance(
  { cofactors }: NonlinearFit,
  jacobian: readonly Float64Array[],
  { map, variance }: NonNullable<FitSample['smoothed']>,
): Float64Array[] {
  const count = map.start.reduce(
    (most, start, row) => Math.max(most, start + map.coefficients[row].length),
    0,
  )
  const byPositions = cofactors.map((row) => {
    const gradient = new Float64Array(count)
    map.start.forEach((start, i) => {
      let by = 0
      for (let k = 0; k < row.length; k++) by += row[k] * jacobian[k][i]
      map.coefficients[i].forEach((coefficient, at) => {
        gradient[start + at] += by * coefficient
      })
    })
    return gradient
  })
  return byPositions.map((a) => Float64Array.from(byPositions, (b) => variance * dotProduct(a, b)))
}
