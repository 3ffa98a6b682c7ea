import { type Homography, homographyStep, type Matrix2, type Point, type Step } from '../geometry/index.ts'
import { dotProduct, leastSquares } from '../regression/index.ts'
import { median } from '../time/index.ts'

/** A point of one picture and where it was found in another one. */
export interface PointMatch {
  from: Point
  to: Point
  /** Covariance of `to` [[xx, xy], [xy, yy]], in square pixels. */
  covariance: Matrix2
}

/**
 * How a camera that stays at its place moved between two pictures, about `centre`: with X = p − centre,
 * p′ = centre + (aX − bY + x, bX + aY + y) / (1 + gX + hY). Turning about the line of sight and zoom are in a and b, panning in x and y,
 * and the perspective that comes with it in g and h (Hartley and Zisserman, section 8.4, to first order in the angles).
 */
export interface ViewMotion {
  centre: Point
  /** a, b, x, y, g, h. */
  parameters: Float64Array
  /** Covariance of the parameters, 6 × 6. */
  covariance: Float64Array[]
}

/** Number of parameters of a view motion. */
const PARAMETERS = 6
/**
 * Standard deviation of the perspective (g or h) that comes with a pan of one pixel, times the square of the picture's width: 1 / f² for
 * focal lengths f from 0.6 widths on.
 */
const PERSPECTIVE = 1.5
/** Rounds of reweighting. */
const ROUNDS = 15
/** Standardised residual from which a match does not count (Tukey's bisquare). */
const BISQUARE = 4.685
/** Median of the length of a standard normal vector in the plane. */
const RAYLEIGH_MEDIAN = 1.1774

/**
 * Returns the view motion through matches, by reweighted least squares with Tukey's bisquare weights. The perspective is kept within
 * what a lens can make of the pan, so that few matches determine the rest. The covariance is scaled by the scatter of the residuals
 * where that is larger than the matches' errors.
 *
 * @param centre middle of the picture
 * @throws FitError if the matches do not determine it
 */
export function fitViewMotion(matches: readonly PointMatch[], centre: Point): ViewMotion {
  const equations = matches.map(({ from, to, covariance }) => {
    const [x, y] = [from.x - centre.x, from.y - centre.y]
    const [u, v] = [to.x - centre.x, to.y - centre.y]
    return whitened(covariance, gradients([x, y], [u, v]), [u, v])
  })
  let weights = matches.map(() => 1)
  // Of an unknown pan, as far as anything is searched.
  let pan = centre.x / 4
  for (let round = 0; ; round++) {
    const roots = weights.map(Math.sqrt)
    const rows = equations.flatMap(({ rows }, i) => rows.map((row) => row.map((one) => one * roots[i])))
    const values = equations.flatMap(({ values }, i) => values.map((one) => one * roots[i]))
    const perspective = (PERSPECTIVE * (pan + 1)) / (2 * centre.x) ** 2
    for (const k of [4, 5]) {
      rows.push(Float64Array.from({ length: PARAMETERS }, (_, i) => (i === k ? 1 / perspective : 0)))
      values.push(0)
    }
    const { parameters, cofactors, rss } = leastSquares(rows, values)
    pan = Math.hypot(parameters[2], parameters[3])
    const lengths = equations.map((equation) =>
      Math.hypot(...equation.rows.map((row, k) => equation.values[k] - dotProduct(row, parameters))),
    )
    if (round < ROUNDS) {
      const scale = Math.max(1, median(lengths) / RAYLEIGH_MEDIAN)
      weights = lengths.map((length) => Math.max(0, 1 - (length / (BISQUARE * scale)) ** 2) ** 2)
      continue
    }
    const freedom = 2 * weights.reduce((sum, weight) => sum + weight, 0) + 2 - PARAMETERS
    const variance = Math.max(1, rss / Math.max(1, freedom))
    return { centre, parameters, covariance: cofactors.map((row) => row.map((one) => variance * one)) }
  }
}

/**
 * Returns the derivatives of x′ and y′ by the parameters, times the denominator; with that the equations for the parameters are linear,
 * and it is 1 within a few hundredths.
 */
const gradients = ([x, y]: number[], [u, v]: number[]) => [
  [x, -y, 1, 0, -x * u, -y * u],
  [y, x, 0, 1, -x * v, -y * v],
]

/** Returns two equations multiplied by the inverse Cholesky factor of the covariance of their values. */
function whitened(
  [[xx, xy], [, yy]]: Matrix2,
  [first, second]: number[][],
  [u, v]: number[],
): { rows: Float64Array[]; values: number[] } {
  const l11 = Math.sqrt(xx)
  const l21 = xy / l11
  const l22 = Math.sqrt(yy - l21 ** 2)
  const upper = (one: number) => one / l11
  const lower = (one: number, other: number) => (other - l21 * upper(one)) / l22
  return {
    rows: [Float64Array.from(first, upper), Float64Array.from(first, (one, k) => lower(one, second[k]))],
    values: [upper(u), lower(u, v)],
  }
}

/** Returns the map from the first picture to the second one. */
export function viewStep({ centre, parameters: [a, b, x, y, g, h] }: ViewMotion): Step {
  const about: Homography = [a, -b, x, b, a, y, g, h, 1]
  const { forward, backward, jacobian } = homographyStep(about)
  const moved = (map: (point: Point) => Point) => (point: Point) => {
    const to = map({ x: point.x - centre.x, y: point.y - centre.y })
    return { x: to.x + centre.x, y: to.y + centre.y }
  }
  return {
    forward: moved(forward),
    backward: moved(backward),
    jacobian: (point) => jacobian({ x: point.x - centre.x, y: point.y - centre.y }),
  }
}

/** Returns the standard error of where a point is taken to, in pixels: the root of the mean variance along two directions. */
export function viewError(motion: ViewMotion, point: Point): number {
  const { centre, parameters, covariance } = motion
  const to = viewStep(motion).forward(point)
  const [x, y] = [point.x - centre.x, point.y - centre.y]
  const denominator = 1 + parameters[4] * x + parameters[5] * y
  const variances = gradients([x, y], [to.x - centre.x, to.y - centre.y]).map((row) => {
    const gradient = Float64Array.from(row, (one) => one / denominator)
    return dotProduct(
      gradient,
      Float64Array.from(covariance, (column) => dotProduct(column, gradient)),
    )
  })
  return Math.sqrt((variances[0] + variances[1]) / 2)
}
