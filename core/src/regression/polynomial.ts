import { FitError, leastSquares } from './leastSquares.ts'
import { dotProduct } from './vectorMath.ts'
import type { Whiten } from './whitening.ts'

/** A polynomial c₀ + c₁t + … fitted to points. */
export interface PolynomialFit {
  coefficients: Float64Array
  /** Covariance of the coefficients from the points' scatter; NaN where there are no degrees of freedom. */
  covariance: Float64Array[]
  /** Number of points, and how many of them say something of their own, less parameters. */
  points: number
  freedom: number
  /** Estimated standard deviation of one mark, in the marks' unit: √(RSS/freedom), of whitened residuals where whitened. */
  scatter: number
  /** Root mean square of the plain residuals, in the values' unit. */
  rmse: number
  /** Share of the values' variance that the curve explains; NaN where the values have none. */
  rSquared: number
  residuals: Float64Array
  valueAt(t: number): number
  /** How far the coefficients move where the values move by so much: they depend on them linearly. */
  parameterShift(change: ArrayLike<number>): Float64Array
}

/**
 * Least-squares polynomial of a degree through (t, y). Inside, t is centred and scaled by a power of
 * two, which keeps the columns far from parallel; coefficients and covariance are then carried back.
 * With `whiten`, generalised least squares for values whose covariance is σ²LLᵀ.
 *
 * @throws FitError for fewer than degree + 1 different times, or values that are not finite
 */
export function fitPolynomial(
  t: ArrayLike<number>,
  y: ArrayLike<number>,
  degree: number,
  whiten?: Whiten,
): PolynomialFit {
  const n = y.length
  const p = degree + 1
  for (let i = 0; i < n; i++)
    if (!Number.isFinite(t[i]) || !Number.isFinite(y[i]))
      throw new FitError(`Point ${i + 1} is not a number.`)
  if (new Set(Array.from(t)).size < p) {
    const least = p === 1 ? 'one point' : `${p} points at different times`
    throw new FitError(`This fit needs at least ${least}; there ${n === 1 ? 'is' : 'are'} ${n}.`)
  }

  let low = Number.POSITIVE_INFINITY
  let high = Number.NEGATIVE_INFINITY
  for (let i = 0; i < n; i++) {
    low = Math.min(low, t[i])
    high = Math.max(high, t[i])
  }
  const centre = low + (high - low) / 2
  const reach = high > low ? 2 ** Math.ceil(Math.log2((high - low) / 2)) : 1
  const u = Float64Array.from({ length: n }, (_, i) => (t[i] - centre) / reach)
  const columns = Array.from({ length: p }, (_, k) => u.map((value) => value ** k))
  const white = whiten ? columns.map(whiten) : columns
  const values = Float64Array.from(y)
  const rows = Array.from({ length: n }, (_, i) => Float64Array.from(white, (column) => column[i]))
  const solution = leastSquares(rows, whiten ? whiten(values) : values)

  const back = shiftMatrix(p, centre, reach)
  const coefficients = Float64Array.from(back, (row) => dotProduct(row, solution.parameters))
  const freedom = (whiten?.rank ?? n) - p
  const variance = freedom > 0 ? solution.rss / freedom : Number.NaN
  const half = back.map((row) => Float64Array.from(solution.cofactors, (column) => dotProduct(row, column)))
  const covariance = half.map((row) => Float64Array.from(back, (other) => dotProduct(row, other) * variance))

  const valueAt = (time: number) => {
    const at = (time - centre) / reach
    return solution.parameters.reduceRight((sum, c) => sum * at + c, 0)
  }
  const movedBy = (change: ArrayLike<number>) => {
    const given = Float64Array.from(change)
    const changed = whiten ? whiten(given) : given
    const along = Float64Array.from(white, (column) => dotProduct(column, changed))
    const moved = Float64Array.from(solution.cofactors, (row) => dotProduct(row, along))
    return Float64Array.from(back, (row) => dotProduct(row, moved))
  }
  const residuals = whiten ? values.map((value, i) => value - valueAt(t[i])) : solution.residuals
  const rss = residuals.reduce((sum, r) => sum + r * r, 0)
  const mean = values.reduce((sum, value) => sum + value / n, 0)
  const total = values.reduce((sum, value) => sum + (value - mean) ** 2, 0)
  return {
    coefficients,
    covariance,
    points: n,
    freedom,
    scatter: Math.sqrt(variance),
    rmse: Math.sqrt(rss / n),
    rSquared: total > 0 ? 1 - rss / total : Number.NaN,
    residuals,
    valueAt,
    parameterShift: movedBy,
  }
}

/** Matrix that turns coefficients in u = (t − centre)/reach into coefficients in t, by the binomial theorem. */
function shiftMatrix(p: number, centre: number, reach: number): Float64Array[] {
  const matrix = Array.from({ length: p }, () => new Float64Array(p))
  for (let k = 0; k < p; k++) {
    let binomial = 1
    for (let j = k; j >= 0; j--) {
      matrix[j][k] = (binomial * (-centre) ** (k - j)) / reach ** k
      binomial = (binomial * j) / (k - j + 1)
    }
  }
  return matrix
}
