import type { Point } from '../../geometry/index.ts'
import { FitError, fitNonlinear } from '../../regression/index.ts'
import type { FreeForm } from './freeForm.ts'

/** What a parameter's going as far as its own size costs, against a curve that misses by the places' whole spread. */
const STAYING = 1e-3

/**
 * Parameters by which a model that somebody has written goes through some places, as near as it can get, and no farther
 * from those before than that takes: a curve that is laid by eye. Where there are fewer places than parameters, or a
 * parameter that none of them tells, it stays where it was (Tikhonov's regularisation).
 *
 * @param before values of the parameters, in the form's order
 * @param places values of the variable and what the model should say there
 * @returns values in the same order; null where nothing near can be found
 */
export function curveThrough(
  { parameters, on }: FreeForm,
  before: readonly number[],
  places: readonly Point[],
): number[] | null {
  const levels = places.map(({ y }) => y)
  const middle = levels.reduce((sum, y) => sum + y, 0) / places.length
  const spread = Math.max(...levels.map((y) => Math.abs(y - middle))) || Math.abs(middle) || 1
  const stays = before.map((value) => (STAYING * spread) / (Math.abs(value) || 1))
  const model = on(places.map(({ x }) => x))
  const count = places.length
  const own = {
    values: new Float64Array(count),
    jacobian: parameters.map(() => new Float64Array(count)),
  }
  try {
    const fit = fitNonlinear({
      y: [...levels, ...before.map((value, k) => stays[k] * value)],
      start: before,
      evaluate: (given, values, jacobian) => {
        model(given, own.values, jacobian ? own.jacobian : null)
        for (let i = 0; i < count; i++) values[i] = own.values[i]
        for (let k = 0; k < before.length; k++) values[count + k] = stays[k] * given[k]
        jacobian?.forEach((slope, k) => {
          slope.fill(0)
          slope.set(own.jacobian[k])
          slope[count + k] = stays[k]
        })
      },
    })
    return [...fit.parameters]
  } catch (error) {
    if (error instanceof FitError) return null
    throw error
  }
}
