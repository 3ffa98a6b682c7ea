import type { Model } from './model.ts'
import { polynomialLaw } from './polynomialLaw.ts'

/** Uniform motion: x₀ + vt. */
export const uniform: Model = {
  id: 'uniform',
  name: 'Uniform motion',
  group: 'uniform',
  law: (setting) => polynomialLaw(setting, 1),
}
