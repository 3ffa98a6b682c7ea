import type { Sloped, World } from './quantity.ts'

/** Sum of one number of each body times its mass, or that over the whole mass. */
export function weighted(
  values: readonly (readonly number[])[],
  worlds: readonly World[],
  as: 'sum' | 'mean',
): Sloped {
  const whole = as === 'sum' ? 1 : worlds.reduce((sum, { mass }) => sum + mass, 0)
  const slopes = worlds.map(({ mass }) => mass / whole)
  return { value: values.reduce((sum, [value], i) => sum + slopes[i] * value, 0), slopes }
}
