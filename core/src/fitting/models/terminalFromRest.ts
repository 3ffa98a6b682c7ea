import { fromRestLaw } from './fromRest.ts'
import type { Model } from './model.ts'

/**
 * A speed that approaches a last one under a drag that is proportional to it, from rest: v∞·(1 − e^(−(t−t₀)/τ)), and the
 * position that belongs to it. Before t₀ it rests.
 */
export const terminalFromRest: Model = {
  id: 'terminal-from-rest',
  name: 'Terminal speed, from rest',
  group: 'settling',
  law: (setting) =>
    fromRestLaw(setting, {
      // Without loss of digits where hardly any time has gone.
      way: (u) => (u < 1e-3 ? (u * u) / 2 - u ** 3 / 6 + u ** 4 / 24 : u + Math.expm1(-u)),
      speed: (u) => -Math.expm1(-u),
      gain: (u) => Math.exp(-u),
      wayTex: (u, since, time) => `\\left[${since} - ${time}\\,(1 - e^{-${u}})\\right]`,
      speedTex: (u) => `\\left(1 - e^{-${u}}\\right)`,
    }),
}
