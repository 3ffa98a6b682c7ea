/**
 * A banded linear map from the marked values to a derived column: row r is the sum of
 * `coefficients[r][k] · value[start[r] + k]`. It is how a derived quantity keeps what it depends on,
 * so that errors know that neighbouring rows share marks.
 */
export interface LinearMap {
  start: number[]
  coefficients: number[][]
}

/** The derived values of the map for marked values. */
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

/** The map that applies `first`, then `second`. */
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

/** The map that keeps only the rows asked for. */
export function pickRows(map: LinearMap, rows: number[]): LinearMap {
  return { start: rows.map((row) => map.start[row]), coefficients: rows.map((row) => map.coefficients[row]) }
}

/** Inner product of two rows: their covariance per unit variance of independent marks (an element of DDᵀ). */
export function rowProduct(map: LinearMap, a: number, b: number): number {
  const from = Math.max(map.start[a], map.start[b])
  const to = Math.min(map.start[a] + map.coefficients[a].length, map.start[b] + map.coefficients[b].length)
  let sum = 0
  for (let at = from; at < to; at++)
    sum += map.coefficients[a][at - map.start[a]] * map.coefficients[b][at - map.start[b]]
  return sum
}
