import type { Model } from './model.ts'
import { swingLaw } from './swingLaw.ts'

/** A swing that dies away: m + A₀·e^(−t/τ)·sin(ωt + φ). */
export const dampedSwing: Model = {
  id: 'damped-swing',
  name: 'Damped swing',
  group: 'swinging',
  use: 'It goes to and fro and loses the same share of its amplitude in every period.',
  law: (setting) => swingLaw(setting, true),
}
