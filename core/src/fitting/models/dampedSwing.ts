import type { Model } from './model.ts'
import { swingLaw } from './swingLaw.ts'

/** A swing that dies away: m + A₀·e^(−t/τ)·sin(ωt + φ). */
export const dampedSwing: Model = {
  id: 'damped-swing',
  name: 'Damped swing',
  group: 'swinging',
  law: (setting) => swingLaw(setting, true),
}
