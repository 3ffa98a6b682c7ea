import type { Model } from './model.ts'
import { polynomialLaw } from './polynomialLaw.ts'

/** At rest: x₀. */
export const rest: Model = {
  id: 'rest',
  name: 'Stays where it is',
  group: 'rest',
  law: (setting) => polynomialLaw(setting, 0),
}
