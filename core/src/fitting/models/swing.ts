import type { Model } from './model.ts'
import { swingLaw } from './swingLaw.ts'

/** A swing of constant amplitude: m + A·sin(ωt + φ). */
export const swing: Model = {
  id: 'swing',
  name: 'Swing',
  group: 'swinging',
  law: (setting) => swingLaw(setting, false),
}
