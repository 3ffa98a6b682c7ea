import { FitError } from './fitError.ts'
import { leastSquares } from './leastSquares.ts'
import { dotProduct } from './vectorMath.ts'
import type { Whiten } from './whitening.ts'

/** A least-squares polynomial c₀ + c₁t + … + c_d t^d. */
export interface PolynomialFit {
  coefficients: Float64Array
  /** Covariance of the coefficients, (d + 1) × (d + 1), scaled by the residual variance; NaN without degrees of freedom. */
  covariance: Float64Array[]
  /** Number of points. */
  points: number
  /** Effective number of points minus the number of coefficients. */
  freedom: number
  /** Estimated standard deviation of one mark, in the marks' unit: √(RSS/freedom) of the (whitened) residuals. */
  scatter: number
  /** Root mean square of the residuals (not whitened), in the values' unit. */
  rmse: number
  /** Coefficient of determination R²; NaN for constant values. */
  rSquared: number
  /** Values minus polynomial, not whitened. */
  residuals: Float64Array
  valueAt(t: number): number
  /** Returns the change of the coefficients for a change of the values (exact, since they depend on them linearly). */
  parameterShift(change: ArrayLike<number>): Float64Array
}

/**
 * Fits a polynomial of a degree to points (t, y) by least squares, or by generalised least squares for values with covariance
 * σ²LLᵀ where `whiten` is given. Internally t is centred and scaled by a power of two, which keeps the design well
 * conditioned; coefficients and covariance are transformed back.
 *
 * @throws FitError for fewer than degree + 1 distinct times, or values that are not finite
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
      throw new FitError({ code: 'not-a-number', point: i + 1 })
  if (new Set(Array.from(t)).size < p) {
    throw new FitError({ code: 'too-few-points', needed: p, points: n })
  }

  let low = Number.POSITIVE_INFINITY
  let high = Number.NEGATIVE_INFINITY
  for (let i = 0; i < n; i++) {
    low = Math.min(low, t[i])
    high = Math.max(high, t[i])
  }
  const centre = low + (high - low) / 2
  const halfRange = high > low ? 2 ** Math.ceil(Math.log2((high - low) / 2)) : 1
  const u = Float64Array.from({ length: n }, (_, i) => (t[i] - centre) / halfRange)
  const columns = Array.from({ length: p }, (_, k) => u.map((value) => value ** k))
  const white = whiten ? columns.map(whiten) : columns
  const values = Float64Array.from(y)
  const rows = Array.from({ length: n }, (_, i) => Float64Array.from(white, (column) => column[i]))
  const solution = leastSquares(rows, whiten ? whiten(values) : values)

  const back = shiftMatrix(p, centre, halfRange)
  const coefficients = Float64Array.from(back, (row) => dotProduct(row, solution.parameters))
  const freedom = (whiten?.rank ?? n) - p
  const variance = freedom > 0 ? solution.rss / freedom : Number.NaN
  const half = back.map((row) => Float64Array.from(solution.cofactors, (column) => dotProduct(row, column)))
  const covariance = half.map((row) => Float64Array.from(back, (other) => dotProduct(row, other) * variance))

  const valueAt = (time: number) => {
    const at = (time - centre) / halfRange
    return solution.parameters.reduceRight((sum, c) => sum * at + c, 0)
  }
  const parameterShift = (change: ArrayLike<number>) => {
    const given = Float64Array.from(change)
    const whitened = whiten ? whiten(given) : given
    const gradient = Float64Array.from(white, (column) => dotProduct(column, whitened))
    const shift = Float64Array.from(solution.cofactors, (row) => dotProduct(row, gradient))
    return Float64Array.from(back, (row) => dotProduct(row, shift))
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
    parameterShift,
  }
}

/** Returns the p × p matrix that transforms coefficients in u = (t − centre)/halfRange to coefficients in t. */
function shiftMatrix(p: number, centre: number, halfRange: number): Float64Array[] {
  const matrix = Array.from({ length: p }, () => new Float64Array(p))
  for (let k = 0; k < p; k++) {
    let binomial = 1
    for (let j = k; j >= 0; j--) {
      matrix[j][k] = (binomial * (-centre) ** (k - j)) / halfRange ** k
      binomial = (binomial * j) / (k - j + 1)
    }
  }
  return matrix
}
