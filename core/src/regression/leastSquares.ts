import { residual } from './compensated.ts'
import { FitError } from './fitError.ts'

/** Solution of a linear least-squares problem with n values and p parameters. */
export interface LeastSquares {
  parameters: Float64Array
  residuals: Float64Array
  /** Sum of squared residuals. */
  rss: number
  /** (XᵀX)⁻¹, p × p, to be multiplied by the variance of the values. */
  cofactors: Float64Array[]
}

/**
 * Minimises ‖y − Xp‖ by Householder QR (Golub and Van Loan, Matrix Computations, 5.3.2) with columns scaled to about unit
 * norm and two steps of iterative refinement on residuals accumulated in twice the working precision.
 *
 * @param rows rows of the design X, n arrays of length p
 * @param y values, length n
 * @throws FitError if there are fewer values than parameters, or if columns are linearly dependent
 */
export function leastSquares(rows: Float64Array[], y: ArrayLike<number>): LeastSquares {
  const n = rows.length
  const p = rows[0]?.length ?? 0
  if (n < p || p === 0) throw new FitError({ code: 'too-few-points', needed: Math.max(1, p), points: n })

  // Powers of two scale without rounding.
  const scales = Float64Array.from({ length: p }, (_, k) => {
    const norm = Math.hypot(...columnSample(rows, k))
    return norm > 0 && Number.isFinite(norm) ? 2 ** -Math.round(Math.log2(norm)) : 1
  })
  const qr = Array.from({ length: p }, (_, k) => Float64Array.from(rows, (row) => row[k] * scales[k]))
  const diagonal = new Float64Array(p)

  for (let k = 0; k < p; k++) {
    const column = qr[k]
    let norm = 0
    for (let i = k; i < n; i++) norm += column[i] ** 2
    norm = Math.sqrt(norm)
    if (!(norm > 1e-13)) throw new FitError({ code: 'parameters-indistinguishable' })
    const value = column[k] > 0 ? -norm : norm
    column[k] -= value
    diagonal[k] = value
    const beta = -1 / (value * column[k])
    for (let j = k + 1; j < p; j++) {
      let dot = 0
      for (let i = k; i < n; i++) dot += column[i] * qr[j][i]
      for (let i = k; i < n; i++) qr[j][i] -= beta * dot * column[i]
    }
  }

  const solve = (values: ArrayLike<number>): Float64Array => {
    const b = Float64Array.from(values)
    for (let k = 0; k < p; k++) {
      const column = qr[k]
      const beta = -1 / (diagonal[k] * column[k])
      let dot = 0
      for (let i = k; i < n; i++) dot += column[i] * b[i]
      for (let i = k; i < n; i++) b[i] -= beta * dot * column[i]
    }
    const solution = new Float64Array(p)
    for (let k = p - 1; k >= 0; k--) {
      let sum = b[k]
      for (let j = k + 1; j < p; j++) sum -= qr[j][k] * solution[j]
      solution[k] = sum / diagonal[k]
    }
    return solution.map((value, k) => value * scales[k])
  }

  const parameters = solve(y)
  let residuals = Float64Array.from(rows, (row, i) => residual(y[i], row, parameters))
  for (let pass = 0; pass < 2; pass++) {
    const correction = solve(residuals)
    for (let k = 0; k < p; k++) parameters[k] += correction[k]
    residuals = Float64Array.from(rows, (row, i) => residual(y[i], row, parameters))
  }

  // R⁻¹ column by column, then (XᵀX)⁻¹ = R⁻¹R⁻ᵀ with the scales put back.
  const inverse = Array.from({ length: p }, () => new Float64Array(p))
  for (let c = 0; c < p; c++)
    for (let k = c; k >= 0; k--) {
      let sum = k === c ? 1 : 0
      for (let j = k + 1; j <= c; j++) sum -= qr[j][k] * inverse[j][c]
      inverse[k][c] = sum / diagonal[k]
    }
  const cofactors = inverse.map((row, i) =>
    Float64Array.from(inverse, (other, j) => {
      let sum = 0
      for (let c = Math.max(i, j); c < p; c++) sum += row[c] * other[c]
      return sum * scales[i] * scales[j]
    }),
  )
  return { parameters, residuals, rss: residuals.reduce((sum, r) => sum + r * r, 0), cofactors }
}

/** Returns entries of a column, thinned to at most about 1000: all could be too many arguments for a call. */
function columnSample(rows: Float64Array[], k: number): number[] {
  const step = Math.ceil(rows.length / 1000)
  const sample: number[] = []
  for (let i = 0; i < rows.length; i += step) sample.push(rows[i][k])
  return sample
}
