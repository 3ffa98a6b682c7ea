import { fromRestLaw } from './fromRest.ts'
import type { Model } from './model.ts'

/** ln cosh u, without overflow and without loss of digits near 0. */
function logCosh(u: number): number {
  if (u < 1e-2) return (u * u) / 2 - u ** 4 / 12 + u ** 6 / 45
  return u + Math.log1p(Math.exp(-2 * u)) - Math.LN2
}

/**
 * A fall from rest with a drag that grows with the square of the speed: v∞·tanh((t−t₀)/τ), and the position that
 * belongs to it. Before t₀ it rests.
 */
export const quadraticDrag: Model = {
  id: 'quadratic-drag',
  name: 'Fall through air, from rest',
  group: 'settling',
  law: (setting) =>
    fromRestLaw(setting, {
      way: logCosh,
      speed: Math.tanh,
      gain: (u) => 1 / Math.cosh(u) ** 2,
      wayTex: (u, _, time) => `${time}\\,\\ln\\cosh\\left(${u}\\right)`,
      speedTex: (u) => `\\tanh\\left(${u}\\right)`,
    }),
}
