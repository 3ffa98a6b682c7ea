import { type DerivedQuantity, dimension, massSensitivity } from './quantity.ts'

export const kineticEnergy: DerivedQuantity = {
  kind: 'derived',
  id: 'Ek',
  symbol: 'E',
  subscript: 'k',
  name: 'Kinetic energy',
  dimension: dimension({ mass: 1, length: 2, time: -2 }),
  direction: 'size',
  needs: ['mass'],
  from: ['vx', 'vy'],
  evaluate: ([vx, vy], constants) => ({
    value: (constants.mass / 2) * (vx * vx + vy * vy),
    gradient: [constants.mass * vx, constants.mass * vy],
    common: massSensitivity(constants, (vx * vx + vy * vy) / 2),
  }),
}
