import { type LinearMap, rowProduct } from './linearMap.ts'

/** Turns values with covariance LLᵀ into uncorrelated ones of unit variance, by solving Lw = v. */
export interface Whiten {
  /** 0 where a value says nothing that those before it don't. */
  (values: Float64Array): Float64Array
  /** How many of the values say something of their own. */
  independent: number
  /** The transposed of the same: solves Lᵀv = w. A weighed sum of white values is one of the values by these weights. */
  back(weights: Float64Array): Float64Array
}

/** Whitening for independent values that are known to within some errors. */
export function whiteningBy(errors: ArrayLike<number>): Whiten {
  const divided = (values: Float64Array) => values.map((value, i) => value / errors[i])
  return Object.assign(divided, { independent: errors.length, back: divided })
}

/**
 * Whitening for values whose errors are an autoregressive process of first order.
 *
 * @param correlations of each value's error with that of the value before it; the first is not used
 */
export function whiteningInRow(errors: ArrayLike<number>, correlations: ArrayLike<number>): Whiten {
  const n = errors.length
  const own = Float64Array.from(errors, (_, i) => (i === 0 ? 1 : Math.sqrt(1 - correlations[i] ** 2)))
  const whiten = (values: Float64Array) =>
    values.map((value, i) => {
      const before = i === 0 ? 0 : (correlations[i] * values[i - 1]) / errors[i - 1]
      return (value / errors[i] - before) / own[i]
    })
  const back = (weights: Float64Array) =>
    weights.map((weight, i) => {
      const after = i === n - 1 ? 0 : (correlations[i + 1] * weights[i + 1]) / own[i + 1]
      return (weight / own[i] - after) / errors[i]
    })
  return Object.assign(whiten, { independent: n, back })
}

/** A row whose variance is so small a share of its own, once the rows before it are known, says nothing new. */
const NOTHING_NEW = 1e-9

/**
 * Whitening for values that a linear map D makes from independent marks: L is the Cholesky factor of
 * DDᵀ, which is as banded as D is (Golub and Van Loan, Matrix Computations, 4.3.5). Generalised least
 * squares is then ordinary least squares on whitened values (Aitken 1936). Rows that depend on those before them,
 * as derivatives by one polynomial at both ends of a motion do, count for nothing of their own.
 */
export function whitening(map: LinearMap): Whiten {
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
      else factor[i][width - 1] = sum > NOTHING_NEW * rowProduct(map, i, i) ? Math.sqrt(sum) : 0
    }
  const whiten = (values: Float64Array) => {
    const white = new Float64Array(n)
    for (let i = 0; i < n; i++) {
      let rest = values[i]
      for (let j = Math.max(0, i - width + 1); j < i; j++) rest -= factor[i][at(i, j)] * white[j]
      if (factor[i][width - 1] > 0) white[i] = rest / factor[i][width - 1]
    }
    return white
  }
  const back = (weights: Float64Array) => {
    const values = new Float64Array(n)
    const rest = weights.slice()
    for (let i = n - 1; i >= 0; i--) {
      if (!(factor[i][width - 1] > 0)) continue
      values[i] = rest[i] / factor[i][width - 1]
      for (let j = Math.max(0, i - width + 1); j < i; j++) rest[j] -= factor[i][at(i, j)] * values[i]
    }
    return values
  }
  return Object.assign(whiten, { independent: factor.filter((row) => row[width - 1] > 0).length, back })
}

/** How many rows before one, with itself, can share marks with it: rows and their marks go along time. */
function bandwidth({ start, coefficients }: LinearMap): number {
  let [widest, first] = [1, 0]
  for (let i = 0; i < start.length; i++) {
    while (start[first] + coefficients[first].length <= start[i]) first++
    widest = Math.max(widest, i - first + 1)
  }
  return widest
}
