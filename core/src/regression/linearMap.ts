/**
 * A banded linear map from n marked values to m derived values: derived[r] = Σₖ coefficients[r][k] · value[start[r] + k].
 * Derived columns keep it for the covariance of neighbouring rows, which share marks.
 */
export interface LinearMap {
  start: number[]
  coefficients: number[][]
}

/** Returns the derived values, length m, of n marked values. */
export function applyMap(map: LinearMap, values: ArrayLike<number>): Float64Array {
  const derived = new Float64Array(map.start.length)
  for (let row = 0; row < derived.length; row++) {
    const [start, coefficients] = [map.start[row], map.coefficients[row]]
    let sum = 0
    for (let k = 0; k < coefficients.length; k++) sum += coefficients[k] * values[start + k]
    derived[row] = sum
  }
  return derived
}

/** Returns the composition second ∘ first. */
export function composedMap(second: LinearMap, first: LinearMap): LinearMap {
  const start: number[] = []
  const coefficients = second.coefficients.map((row, r) => {
    const rows = row.map((_, k) => second.start[r] + k)
    const from = Math.min(...rows.map((i) => first.start[i]))
    const to = Math.max(...rows.map((i) => first.start[i] + first.coefficients[i].length))
    const combined = new Array<number>(to - from).fill(0)
    row.forEach((by, k) => {
      const i = rows[k]
      first.coefficients[i].forEach((one, j) => {
        combined[first.start[i] + j - from] += by * one
      })
    })
    start.push(from)
    return combined
  })
  return { start, coefficients }
}

/** Returns the map with only these rows, in this order. */
export function pickRows(map: LinearMap, rows: number[]): LinearMap {
  return { start: rows.map((row) => map.start[row]), coefficients: rows.map((row) => map.coefficients[row]) }
}

/** Returns element (a, b) of DDᵀ: the covariance of two derived values per unit variance of independent marks. */
export function rowProduct(map: LinearMap, a: number, b: number): number {
  const from = Math.max(map.start[a], map.start[b])
  const to = Math.min(map.start[a] + map.coefficients[a].length, map.start[b] + map.coefficients[b].length)
  let sum = 0
  for (let at = from; at < to; at++)
    sum += map.coefficients[a][at - map.start[a]] * map.coefficients[b][at - map.start[b]]
  return sum
}
