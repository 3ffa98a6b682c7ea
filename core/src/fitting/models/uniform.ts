import type { Model } from './model.ts'
import { polynomialLaw } from './polynomialLaw.ts'

/** Uniform motion: x₀ + vt. */
export const uniform: Model = {
  id: 'uniform',
  name: 'Uniform motion',
  group: 'uniform',
  use: 'Nothing pushes or brakes along this direction: position goes along a straight line.',
  law: (setting) => polynomialLaw(setting, 1),
}
