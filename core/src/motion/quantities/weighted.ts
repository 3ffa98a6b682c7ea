import { type BodyConstants, type Linearised, massSensitivity } from './quantity.ts'

/** Sum of one number of each body times its mass, or that over the whole mass. */
export function weighted(
  values: readonly (readonly number[])[],
  constants: readonly BodyConstants[],
  as: 'sum' | 'mean',
): Linearised {
  const whole = as === 'sum' ? 1 : constants.reduce((sum, { mass }) => sum + mass, 0)
  const gradient = constants.map(({ mass }) => mass / whole)
  const value = values.reduce((sum, [one], i) => sum + gradient[i] * one, 0)
  // A heavier body draws the mean towards itself.
  const off = as === 'sum' ? 0 : value
  return {
    value,
    gradient,
    common: constants.flatMap((constants, i) => massSensitivity(constants, (values[i][0] - off) / whole)),
  }
}
