import type { Model } from './model.ts'
import { swingLaw } from './swingLaw.ts'

/** A swing of constant amplitude: m + A·sin(ωt + φ). */
export const swing: Model = {
  id: 'swing',
  name: 'Swing',
  group: 'swinging',
  use: 'It goes to and fro without getting visibly weaker: a spring or a pendulum over a few periods.',
  law: (setting) => swingLaw(setting, false),
}
