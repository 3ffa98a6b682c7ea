import type { Point } from '../geometry/index.ts'
import { FitError, leastSquares } from './leastSquares.ts'
import { sumOfSquares } from './vectorMath.ts'

/**
 * How far a place is off a curve, in any measure that is 0 on it, with its slopes, and its second derivatives by the
 * place; the mixed one is 0.
 */
export interface ImplicitValue {
  value: number
  byX: number
  byY: number
  secondX: number
  secondY: number
  byParameters: readonly number[]
}

/** A relation between two quantities, by how far a place is off it. */
export interface Relation {
  evaluate(x: number, y: number, parameters: ArrayLike<number>): ImplicitValue
}

/** Points by two quantities, with the errors that each has of its own. */
export interface MeasuredPoints {
  x: Float64Array
  y: Float64Array
  covariances: readonly PointCovariance[]
}

/** Rounds at most, and by what share of their errors the points may still be off because of a last step. */
const ROUNDS = { most: 200, settled: 1e-6 }
/** Of the way from a curve to the middle of its bend a point may be taken to have gone so much at most. */
const MOST_BENT = 0.7

/** Variances of a point's two quantities, and their covariance. */
export interface PointCovariance {
  xx: number
  xy: number
  yy: number
}

/** A relation that has been fitted. */
export interface RelationFit {
  parameters: Float64Array
  /** Of the parameters, where each point's errors are taken to be its own; and slopes by them, in standard errors. */
  cofactors: Float64Array[]
  whitenedJacobian: Float64Array[]
  /** Residuals in standard errors, and the sum of their squares. */
  whitenedResiduals: Float64Array
  rss: number
  /** Slopes of how far each point is off the curve, where it has been moved to, and the standard error of that. */
  byX: Float64Array
  byY: Float64Array
  errors: Float64Array
  /** Where the points belong on the curve, and their own errors. */
  adjusted: Point[]
  covariances: readonly PointCovariance[]
}

/**
 * Fits a relation between two quantities that both have errors: each point is moved to where it most likely is on the
 * curve, by as little as its errors make likely, while the curve is put where that takes least (Gauss and Helmert's model:
 * Deming, Statistical Adjustment of Data, 1943; York, Can. J. Phys. 44 (1966) 1079, for lines).
 *
 * @throws FitError where it does not come to rest, or where points have no errors
 */
export function fitRelation(
  relation: Relation,
  start: readonly number[],
  { x, y, covariances }: MeasuredPoints,
): RelationFit {
  const n = x.length
  const parameters = Float64Array.from(start)
  const [atX, atY] = [x.slice(), y.slice()]
  for (let round = 0; ; round++) {
    const looks = Array.from(x, (_, i) => relation.evaluate(atX[i], atY[i], parameters))
    const byX = Float64Array.from(looks, (look) => look.byX)
    const byY = Float64Array.from(looks, (look) => look.byY)
    const errors = Float64Array.from(looks, (look, i) => Math.sqrt(acrossOf(look, covariances[i]).variance))
    if (!errors.every((error) => error > 0))
      throw new FitError('The errors of these quantities are not known.')
    const wanting = looks.map(
      ({ value: off }, i) => -(off + byX[i] * (x[i] - atX[i]) + byY[i] * (y[i] - atY[i])) / errors[i],
    )
    if (!wanting.every(Number.isFinite)) throw new FitError('The model grows beyond all numbers.')
    const columns = Array.from(parameters, (_, k) =>
      Float64Array.from(looks, ({ byParameters }, i) => byParameters[k] / errors[i]),
    )
    const rows = Array.from({ length: n }, (_, i) => Float64Array.from(columns, (column) => column[i]))
    const { parameters: step, residuals: white, rss, cofactors } = leastSquares(rows, wanting)
    // In the first round the points are where they were measured: that is not where they belong.
    const isSettled =
      round > 0 &&
      step.every(
        (by, k) => Math.abs(by) * Math.sqrt(sumOfSquares(columns[k])) <= ROUNDS.settled * Math.sqrt(n),
      )
    step.forEach((by, k) => {
      parameters[k] += by
    })
    if (isSettled) {
      const belong = Array.from(atX, (at, i) => ({ x: at, y: atY[i] }))
      return {
        parameters,
        cofactors,
        whitenedJacobian: columns,
        whitenedResiduals: white,
        rss,
        byX,
        byY,
        errors,
        adjusted: belong,
        covariances: covariances,
      }
    }
    if (round === ROUNDS.most)
      throw new FitError('The fit does not come to rest: the points look nothing like it.')
    looks.forEach((look, i) => {
      const moved = look.value + look.byParameters.reduce((sum, slope, k) => sum + slope * step[k], 0)
      const [toX, toY] = footStep(look, moved, covariances[i], x[i] - atX[i], y[i] - atY[i])
      atX[i] += toX
      atY[i] += toY
    })
  }
}

/**
 * Newton's step of a point along and towards a curve, to where it most likely is on it: where what it is moved by goes
 * with its errors as the curve's normal does. The curve's bend counts as long as the place is not past the middle of it.
 *
 * @param off how far it will be off the curve
 * @param dx how far the measured point is from it
 */
function footStep(
  look: ImplicitValue,
  off: number,
  covariances: PointCovariance,
  dx: number,
  dy: number,
): [number, number] {
  const { byX, byY } = look
  const { alongX, alongY, variance } = acrossOf(look, covariances)
  const { bentX, bentY, bent } = bendOf(look, covariances, dx, dy)
  const aside = dx * alongY - dy * alongX
  const share = bent < -MOST_BENT * variance ? (-MOST_BENT * variance) / bent : 1
  const [asideX, asideY] = [share * bentX - alongY, share * bentY + alongX]
  const determinant = variance + share * bent
  return [(aside * byY - off * asideY) / determinant, (off * asideX - aside * byX) / determinant]
}

/** The direction in which a place on a curve is most likely to be missed, and the variance of how far off that is. */
function acrossOf({ byX, byY }: ImplicitValue, { xx, xy, yy }: PointCovariance) {
  const [alongX, alongY] = [xx * byX + xy * byY, xy * byX + yy * byY]
  return { alongX, alongY, variance: byX * alongX + byY * alongY }
}

/** What a curve's bend makes of where a point belongs that lies so far from there. */
function bendOf(
  { byX, byY, secondX: bendX, secondY: bendY }: ImplicitValue,
  { xx, xy, yy }: PointCovariance,
  dx: number,
  dy: number,
) {
  const [bentX, bentY] = [bendX * (dx * xy - dy * xx), bendY * (dx * yy - dy * xy)]
  return { bentX, bentY, bent: byX * bentY - byY * bentX }
}

/**
 * The greatest of the points' standard errors across a curve in radii of its bend, both as lengths go by these errors.
 *
 * @param traced places of a closed curve, to be looked at by the errors of the point that belongs nearest to each; points
 * keep away from its bends where these are too narrow. Where points belong, for any other curve.
 */
export function maxCurvature(
  relation: Relation,
  { parameters, adjusted: belong, covariances }: RelationFit,
  traced: readonly Point[] | null,
): number {
  const spanOf = (of: (place: Point) => number) => {
    let [least, most] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
    for (const place of belong) [least, most] = [Math.min(least, of(place)), Math.max(most, of(place))]
    return most - least || 1
  }
  const [spanX, spanY] = [spanOf(({ x }) => x), spanOf(({ y }) => y)]
  const nearestTo = ({ x, y }: Point) => {
    let [nearest, least] = [0, Number.POSITIVE_INFINITY]
    belong.forEach((place, i) => {
      const away = ((place.x - x) / spanX) ** 2 + ((place.y - y) / spanY) ** 2
      if (away < least) [nearest, least] = [i, away]
    })
    return nearest
  }
  const sharpness = ({ x, y }: Point, errors: PointCovariance) => {
    const look = relation.evaluate(x, y, parameters)
    const { alongX, alongY, variance } = acrossOf(look, errors)
    return Math.abs(bendOf(look, errors, alongX, alongY).bent) / variance ** 1.5
  }
  return (traced ?? belong).reduce(
    (most, place, i) => Math.max(most, sharpness(place, covariances[traced ? nearestTo(place) : i])),
    0,
  )
}
