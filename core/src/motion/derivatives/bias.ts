import { applyMap } from '../../regression/index.ts'
import { type DerivationPoints, type Derived, ownPoints, type Run, runsOf } from './derivationPoints.ts'
import { derivativeAt, windowAround } from './localPolynomial.ts'

/** Points that higher derivatives are taken from at most: enough to tell them, and told soon. */
const MOST_POINTS = 201

/**
 * Returns a bound on how far derivatives are off by smoothing, where the motion bends more than the method follows. By
 * Taylor's theorem a value Σ cⱼ x(tⱼ) that is exact to degree p misses by
 *
 *     x⁽ᵖ⁺¹⁾(t) Σ cⱼτⱼᵖ⁺¹/(p+1)!  +  at most  max|x⁽ᵖ⁺²⁾| Σ |cⱼτⱼᵖ⁺²|/(p+2)!
 *
 * with τⱼ = tⱼ − t (Fan and Gijbels, Local Polynomial Modelling, 1996, 3.1). The two higher derivatives are taken
 * from the marks, by the least-squares polynomial of degree p + 2 over twice the window; the second at its largest
 * within the window. NaN where there are too few points to tell.
 *
 * @param exact p: the degree to which the method is exact
 * @param values positions of all points
 * @returns one bound for each of the derived rows
 */
export function biasBounds(
  points: DerivationPoints,
  { rows, map }: Derived,
  exact: number,
  values: ArrayLike<number>,
): Float64Array {
  const bounds = new Float64Array(rows.length).fill(Number.NaN)
  let factorial = 1
  for (let n = 2; n <= exact + 1; n++) factorial *= n
  const at = new Map(rows.map((row, i) => [row, i]))
  for (const run of runsOf(points)) {
    const { first, times } = run
    const degree = exact + 2
    if (times.length <= degree) continue
    const widest = ownPoints(run).reduce((most, k) => {
      const i = at.get(first + k)
      return i === undefined ? most : Math.max(most, map.coefficients[i].length)
    }, 0)
    const [low, high] = [exact + 1, exact + 2].map((order) =>
      higher(run, values, degree, order, Math.min(MOST_POINTS, 2 * widest - 1)),
    )
    for (let k = 0; k < times.length; k++) {
      const i = at.get(first + k)
      if (i === undefined) continue
      let [signed, sizes, largest] = [0, 0, 0]
      map.coefficients[i].forEach((coefficient, n) => {
        const j = map.start[i] - first + n
        const away = times[j] - times[k]
        signed += coefficient * away ** (exact + 1)
        sizes += Math.abs(coefficient * away ** (exact + 2))
        largest = Math.max(largest, Math.abs(high[j]))
      })
      bounds[i] = Math.abs(low[k] * signed) / factorial + (largest * sizes) / (factorial * (exact + 2))
    }
  }
  return bounds
}

/** Returns a derivative of high order at each point of a run, by a polynomial over so many points around it. */
function higher(
  { first, times }: Run,
  values: ArrayLike<number>,
  degree: number,
  order: number,
  wanted: number,
): Float64Array {
  const maps = times.map((time, k) => {
    const { from, size } = windowAround(k, Math.max(wanted, degree + 1), times.length)
    return {
      start: first + from,
      coefficients: derivativeAt(times.slice(from, from + size), time, degree, order),
    }
  })
  return applyMap(
    { start: maps.map(({ start }) => start), coefficients: maps.map(({ coefficients }) => coefficients) },
    values,
  )
}
