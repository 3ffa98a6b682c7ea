import type { Model } from './model.ts'
import { polynomialLaw } from './polynomialLaw.ts'

/** Acceleration that changes steadily: x₀ + v₀t + ½a₀t² + ⅙jt³. */
export const changingAcceleration: Model = {
  id: 'changing-acceleration',
  name: 'Cubic in time',
  group: 'changing',
  law: (setting) => polynomialLaw(setting, 3),
}
