import { applyMap, type Evaluate, FIVE_POINTS, type LinearMap } from '../regression/index.ts'

/**
 * Returns the evaluation of a law of a derived column as the derivation would show it: the law is integrated to positions at
 * the times of the marks (Gauss–Legendre quadrature between neighbouring marks), and these go through the same linear map as
 * the marks, so that smoothing has the same effect on the law as on the data. Initial position and slope are 0: a derivative
 * does not depend on them.
 *
 * @param on the law at given times
 * @param times of the marks that the map reads (s), increasing
 * @param map from positions at `times` to the derived values
 * @param order of the derivative
 */
export function lawThroughDerivation(
  on: (places: ArrayLike<number>) => Evaluate,
  times: ArrayLike<number>,
  map: LinearMap,
  order: 1 | 2,
): Evaluate {
  const steps = times.length - 1
  const perStep = FIVE_POINTS.length
  const places = new Float64Array(steps * perStep)
  for (let i = 0; i < steps; i++)
    FIVE_POINTS.forEach(({ at }, k) => {
      places[i * perStep + k] = times[i] + at * (times[i + 1] - times[i])
    })
  const evaluate = on(places)
  /** Integrates a derivative given at the quadrature points to positions at `times`. */
  const integrated = (derivative: Float64Array): Float64Array => {
    const sums = new Float64Array(times.length)
    let [value, slope] = [0, 0]
    for (let i = 0; i < steps; i++) {
      const step = times[i + 1] - times[i]
      let [integral, moment] = [0, 0]
      for (let k = 0; k < perStep; k++) {
        const { at, weight } = FIVE_POINTS[k]
        const share = weight * derivative[i * perStep + k]
        integral += share
        moment += (1 - at) * share
      }
      if (order === 1) value += step * integral
      else {
        value += step * slope + step * step * moment
        slope += step * integral
      }
      sums[i + 1] = value
    }
    return sums
  }
  const between = new Float64Array(places.length)
  return (parameters, values, jacobian) => {
    const inside = jacobian?.map(() => new Float64Array(places.length)) ?? null
    evaluate(parameters, between, inside)
    values.set(applyMap(map, integrated(between)))
    inside?.forEach((slope, k) => {
      jacobian![k].set(applyMap(map, integrated(slope)))
    })
  }
}
