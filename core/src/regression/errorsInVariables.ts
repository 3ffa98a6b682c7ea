import type { Point } from '../geometry/index.ts'
import { FitError } from './fitError.ts'
import { leastSquares } from './leastSquares.ts'
import { sumOfSquares } from './vectorMath.ts'

/**
 * Value of an implicit function F(x, y; p), which is 0 on its curve, with its first derivatives, and its second derivatives
 * by x and by y; the mixed one is 0.
 */
export interface ImplicitValue {
  value: number
  byX: number
  byY: number
  secondX: number
  secondY: number
  byParameters: readonly number[]
}

/** A relation F(x, y; p) = 0 between two quantities. */
export interface Relation {
  evaluate(x: number, y: number, parameters: ArrayLike<number>): ImplicitValue
}

/** Points (x, y) with the covariance of each, length n. */
export interface MeasuredPoints {
  x: Float64Array
  y: Float64Array
  covariances: readonly PointCovariance[]
}

/** Most iterations, and the largest last change of the parameters, in standard errors of a point. */
const ITERATIONS = { most: 200, converged: 1e-6 }
/** Largest distance of a point from the curve, as a fraction of its radius of curvature, that the curvature term allows for. */
const MAX_CURVATURE_TERM = 0.7

/** Covariance matrix of a point's two quantities. */
export interface PointCovariance {
  xx: number
  xy: number
  yy: number
}

/** A fitted relation with n points and p parameters. */
export interface RelationFit {
  parameters: Float64Array
  /** Cofactors of the parameters if the points were independent, p × p. */
  cofactors: Float64Array[]
  /** ∂F/∂(parameter k) of each point over the standard error of F: p arrays of length n. */
  whitenedJacobian: Float64Array[]
  /** F over its standard error, length n, and the sum of its squares. */
  whitenedResiduals: Float64Array
  rss: number
  /** ∂F/∂x and ∂F/∂y at the adjusted points, and the standard error of F; length n. */
  byX: Float64Array
  byY: Float64Array
  errors: Float64Array
  /** The adjusted points, which lie on the curve, and the covariances of the measured ones. */
  adjusted: Point[]
  covariances: readonly PointCovariance[]
}

/**
 * Fits a relation between two quantities that both have errors (Gauss–Helmert model): minimises the weighted squared
 * distances between the measured and the adjusted points (Deming, Statistical Adjustment of Data, 1943; York, Can. J. Phys.
 * 44 (1966) 1079, for lines).
 *
 * @param start initial parameters, length p
 * @throws FitError if it does not converge, or if points have no errors
 */
export function fitRelation(
  relation: Relation,
  start: readonly number[],
  { x, y, covariances }: MeasuredPoints,
): RelationFit {
  const n = x.length
  const parameters = Float64Array.from(start)
  const [atX, atY] = [x.slice(), y.slice()]
  for (let iteration = 0; ; iteration++) {
    const values = Array.from(x, (_, i) => relation.evaluate(atX[i], atY[i], parameters))
    const byX = Float64Array.from(values, (value) => value.byX)
    const byY = Float64Array.from(values, (value) => value.byY)
    const errors = Float64Array.from(values, (value, i) =>
      Math.sqrt(normalOf(value, covariances[i]).variance),
    )
    if (!errors.every((error) => error > 0)) throw new FitError({ code: 'errors-unknown' })
    const right = values.map(
      ({ value }, i) => -(value + byX[i] * (x[i] - atX[i]) + byY[i] * (y[i] - atY[i])) / errors[i],
    )
    if (!right.every(Number.isFinite)) throw new FitError({ code: 'overflow' })
    const whitenedJacobian = Array.from(parameters, (_, k) =>
      Float64Array.from(values, ({ byParameters }, i) => byParameters[k] / errors[i]),
    )
    const rows = Array.from({ length: n }, (_, i) =>
      Float64Array.from(whitenedJacobian, (column) => column[i]),
    )
    const { parameters: step, residuals: whitenedResiduals, rss, cofactors } = leastSquares(rows, right)
    // In the first iteration the points are still where they were measured, not on the curve.
    const isConverged =
      iteration > 0 &&
      step.every(
        (by, k) =>
          Math.abs(by) * Math.sqrt(sumOfSquares(whitenedJacobian[k])) <= ITERATIONS.converged * Math.sqrt(n),
      )
    step.forEach((by, k) => {
      parameters[k] += by
    })
    if (isConverged) {
      const adjusted = Array.from(atX, (at, i) => ({ x: at, y: atY[i] }))
      return {
        parameters,
        cofactors,
        whitenedJacobian,
        whitenedResiduals,
        rss,
        byX,
        byY,
        errors,
        adjusted,
        covariances,
      }
    }
    if (iteration === ITERATIONS.most) throw new FitError({ code: 'no-resemblance' })
    values.forEach((at, i) => {
      const next = at.value + at.byParameters.reduce((sum, slope, k) => sum + slope * step[k], 0)
      const [toX, toY] = footStep(at, next, covariances[i], x[i] - atX[i], y[i] - atY[i])
      atX[i] += toX
      atY[i] += toY
    })
  }
}

/**
 * Returns the Newton step of an adjusted point towards the point of the curve with the least Mahalanobis distance from the
 * measured one. The curve's second derivatives are used as long as the point is clear of the centre of curvature.
 *
 * @param value F at the adjusted point, with the parameters of the next iteration
 * @param dx measured minus adjusted x; `dy` likewise
 */
function footStep(
  at: ImplicitValue,
  value: number,
  covariance: PointCovariance,
  dx: number,
  dy: number,
): [number, number] {
  const { byX, byY } = at
  const { normalX, normalY, variance } = normalOf(at, covariance)
  const { termX, termY, curvature } = curvatureTermOf(at, covariance, dx, dy)
  const offset = dx * normalY - dy * normalX
  const limited = -MAX_CURVATURE_TERM * variance
  const share = curvature < limited ? limited / curvature : 1
  const [tangentX, tangentY] = [share * termX - normalY, share * termY + normalX]
  const determinant = variance + share * curvature
  return [(offset * byY - value * tangentY) / determinant, (value * tangentX - offset * byX) / determinant]
}

/** Returns the covariance matrix times ∇F, and the variance of F. */
function normalOf({ byX, byY }: ImplicitValue, { xx, xy, yy }: PointCovariance) {
  const [normalX, normalY] = [xx * byX + xy * byY, xy * byX + yy * byY]
  return { normalX, normalY, variance: byX * normalX + byY * normalY }
}

/** Returns the second-derivative terms of the Newton step for a point at (dx, dy) from its adjusted position. */
function curvatureTermOf(
  { byX, byY, secondX, secondY }: ImplicitValue,
  { xx, xy, yy }: PointCovariance,
  dx: number,
  dy: number,
) {
  const [termX, termY] = [secondX * (dx * xy - dy * xx), secondY * (dx * yy - dy * xy)]
  return { termX, termY, curvature: byX * termY - byY * termX }
}

/**
 * Returns the largest ratio of a point's standard error across the curve to the curve's radius of curvature there, in the
 * metric of the point's covariance.
 *
 * @param traced points of a closed curve, each evaluated with the covariance of the nearest adjusted point, since adjusted
 * points avoid sharp bends; null: evaluated at the adjusted points
 */
export function maxCurvature(
  relation: Relation,
  { parameters, adjusted, covariances }: RelationFit,
  traced: readonly Point[] | null,
): number {
  const spanOf = (of: (point: Point) => number) => {
    let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
    for (const point of adjusted) [least, most] = [Math.min(least, of(point)), Math.max(most, of(point))]
    return most - least || 1
  }
  const [spanX, spanY] = [spanOf(({ x }) => x), spanOf(({ y }) => y)]
  const nearestTo = ({ x, y }: Point) => {
    let [nearest, least] = [0, Number.POSITIVE_INFINITY]
    adjusted.forEach((point, i) => {
      const square = ((point.x - x) / spanX) ** 2 + ((point.y - y) / spanY) ** 2
      if (square < least) [nearest, least] = [i, square]
    })
    return nearest
  }
  const curvatureAt = ({ x, y }: Point, covariance: PointCovariance) => {
    const at = relation.evaluate(x, y, parameters)
    const { normalX, normalY, variance } = normalOf(at, covariance)
    return Math.abs(curvatureTermOf(at, covariance, normalX, normalY).curvature) / variance ** 1.5
  }
  return (traced ?? adjusted).reduce(
    (most, point, i) => Math.max(most, curvatureAt(point, covariances[traced ? nearestTo(point) : i])),
    0,
  )
}
