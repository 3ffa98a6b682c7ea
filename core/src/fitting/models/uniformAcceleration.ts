import type { Model } from './model.ts'
import { polynomialLaw } from './polynomialLaw.ts'

/** Uniformly accelerated motion: x₀ + v₀t + ½at². */
export const uniformAcceleration: Model = {
  id: 'uniform-acceleration',
  name: 'Uniform acceleration',
  group: 'accelerated',
  law: (setting) => polynomialLaw(setting, 2),
}
