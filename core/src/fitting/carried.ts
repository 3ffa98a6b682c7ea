import { applyMap, type Evaluate, FIVE_POINTS, type LinearMap } from '../regression/index.ts'

/**
 * A law of a derived column as the derivation would show it: what the law says of the derivative is summed up to
 * positions at the marks' own times (by Gauss and Legendre's rule between each two of them), and these go through the
 * same linear map as the marks did. What smoothing takes off a curve it then takes off the law, too. The positions'
 * first value and slope are left at 0: a derivative does not know them.
 *
 * @param on the law at places
 * @param times of the marks that the map reads, growing
 * @param order how often it is derived
 */
export function carriedThrough(
  on: (places: ArrayLike<number>) => Evaluate,
  times: ArrayLike<number>,
  map: LinearMap,
  order: 1 | 2,
): Evaluate {
  const steps = times.length - 1
  const each = FIVE_POINTS.length
  const places = new Float64Array(steps * each)
  for (let i = 0; i < steps; i++)
    FIVE_POINTS.forEach(({ at }, k) => {
      places[i * each + k] = times[i] + at * (times[i + 1] - times[i])
    })
  const evaluate = on(places)
  /** Positions from what their derivative is at the places in between. */
  const summed = (derivative: Float64Array): Float64Array => {
    const sums = new Float64Array(times.length)
    let [value, slope] = [0, 0]
    for (let i = 0; i < steps; i++) {
      const step = times[i + 1] - times[i]
      let [whole, turned] = [0, 0]
      for (let k = 0; k < each; k++) {
        const { at, weight } = FIVE_POINTS[k]
        const share = weight * derivative[i * each + k]
        whole += share
        turned += (1 - at) * share
      }
      if (order === 1) value += step * whole
      else {
        value += step * slope + step * step * turned
        slope += step * whole
      }
      sums[i + 1] = value
    }
    return sums
  }
  const between = new Float64Array(places.length)
  return (parameters, values, slopes) => {
    const inside = slopes?.map(() => new Float64Array(places.length)) ?? null
    evaluate(parameters, between, inside)
    values.set(applyMap(map, summed(between)))
    inside?.forEach((slope, k) => {
      slopes![k].set(applyMap(map, summed(slope)))
    })
  }
}
