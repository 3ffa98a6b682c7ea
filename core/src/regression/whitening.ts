import { type LinearMap, rowProduct } from './linearMap.ts'

/** Whitens values v with covariance LLᵀ: solves Lw = v, so that w is uncorrelated with unit variance. */
export interface Whiten {
  /** Returns w, as long as `values`; 0 for a value that is linearly dependent on those before it. */
  (values: Float64Array): Float64Array
  /** Rank of the covariance: the number of independent values. */
  rank: number
  /** Solves Lᵀv = w: the weights by which values give the same sum as whitened values weighted by `weights`. */
  transposed(weights: Float64Array): Float64Array
}

/** Returns the whitening of independent values with these standard errors. */
export function diagonalWhitening(errors: ArrayLike<number>): Whiten {
  const divided = (values: Float64Array) => values.map((value, i) => value / errors[i])
  return Object.assign(divided, { rank: errors.length, transposed: divided })
}

/**
 * Returns the whitening of values whose errors are an autoregressive process of first order.
 *
 * @param errors standard errors, length n
 * @param correlations correlation of each error with the one before it, length n; the first is not used
 */
export function autoregressiveWhitening(errors: ArrayLike<number>, correlations: ArrayLike<number>): Whiten {
  const n = errors.length
  const own = Float64Array.from(errors, (_, i) => (i === 0 ? 1 : Math.sqrt(1 - correlations[i] ** 2)))
  const whiten = (values: Float64Array) =>
    values.map((value, i) => {
      const before = i === 0 ? 0 : (correlations[i] * values[i - 1]) / errors[i - 1]
      return (value / errors[i] - before) / own[i]
    })
  const transposed = (weights: Float64Array) =>
    weights.map((weight, i) => {
      const after = i === n - 1 ? 0 : (correlations[i + 1] * weights[i + 1]) / own[i + 1]
      return (weight / own[i] - after) / errors[i]
    })
  return Object.assign(whiten, { rank: n, transposed })
}

/** A row is linearly dependent if its conditional variance, given the rows before it, is below this fraction of its variance. */
const DEPENDENT = 1e-9

/**
 * Returns the whitening of values that a linear map D makes from independent marks of unit variance: L is the banded Cholesky
 * factor of DDᵀ (Golub and Van Loan, Matrix Computations, 4.3.5). Generalised least squares is then ordinary least squares on
 * whitened values (Aitken 1936). Linearly dependent rows, such as derivatives by one polynomial at both ends of a run, get
 * weight 0.
 */
export function linearMapWhitening(map: LinearMap): Whiten {
  const n = map.start.length
  const width = bandwidth(map)
  // factor[i][k] is L at row i, column i − width + 1 + k.
  const factor = Array.from({ length: n }, () => new Float64Array(width))
  const at = (i: number, j: number) => j - i + width - 1
  for (let i = 0; i < n; i++)
    for (let j = Math.max(0, i - width + 1); j <= i; j++) {
      let sum = rowProduct(map, i, j)
      for (let k = Math.max(0, i - width + 1, j - width + 1); k < j; k++)
        sum -= factor[i][at(i, k)] * factor[j][at(j, k)]
      if (i !== j) factor[i][at(i, j)] = factor[j][width - 1] > 0 ? sum / factor[j][width - 1] : 0
      else factor[i][width - 1] = sum > DEPENDENT * rowProduct(map, i, i) ? Math.sqrt(sum) : 0
    }
  const whiten = (values: Float64Array) => {
    const white = new Float64Array(n)
    for (let i = 0; i < n; i++) {
      let remaining = values[i]
      for (let j = Math.max(0, i - width + 1); j < i; j++) remaining -= factor[i][at(i, j)] * white[j]
      if (factor[i][width - 1] > 0) white[i] = remaining / factor[i][width - 1]
    }
    return white
  }
  const transposed = (weights: Float64Array) => {
    const values = new Float64Array(n)
    const remaining = weights.slice()
    for (let i = n - 1; i >= 0; i--) {
      if (!(factor[i][width - 1] > 0)) continue
      values[i] = remaining[i] / factor[i][width - 1]
      for (let j = Math.max(0, i - width + 1); j < i; j++) remaining[j] -= factor[i][at(i, j)] * values[i]
    }
    return values
  }
  return Object.assign(whiten, { rank: factor.filter((row) => row[width - 1] > 0).length, transposed })
}

/** Returns the bandwidth of DDᵀ: the number of consecutive rows, including itself, with which a row can share marks. */
function bandwidth({ start, coefficients }: LinearMap): number {
  let [widest, first] = [1, 0]
  for (let i = 0; i < start.length; i++) {
    while (start[first] + coefficients[first].length <= start[i]) first++
    widest = Math.max(widest, i - first + 1)
  }
  return widest
}
