import { byMass, type Sloped, type World } from './quantity.ts'

/** Sum of one number of each body times its mass, or that over the whole mass. */
export function weighted(
  values: readonly (readonly number[])[],
  worlds: readonly World[],
  as: 'sum' | 'mean',
): Sloped {
  const whole = as === 'sum' ? 1 : worlds.reduce((sum, { mass }) => sum + mass, 0)
  const slopes = worlds.map(({ mass }) => mass / whole)
  const value = values.reduce((sum, [one], i) => sum + slopes[i] * one, 0)
  // A heavier body draws the mean towards itself.
  const off = as === 'sum' ? 0 : value
  return { value, slopes, common: worlds.flatMap((world, i) => byMass(world, (values[i][0] - off) / whole)) }
}
