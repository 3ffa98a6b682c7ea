import { type DerivedQuantity, dimension } from './quantity.ts'

export const totalEnergy: DerivedQuantity = {
  kind: 'derived',
  id: 'E',
  symbol: 'E',
  subscript: '',
  name: 'Total energy',
  dimension: dimension({ mass: 1, length: 2, time: -2 }),
  direction: 'size',
  needs: ['mass', 'scale'],
  from: ['Ek', 'Ep'],
  evaluate: ([kinetic, potential]) => ({ value: kinetic + potential, gradient: [1, 1] }),
}
