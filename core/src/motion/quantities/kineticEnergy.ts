import { dimension, type JointQuantity } from './quantity.ts'

export const kineticEnergy: JointQuantity = {
  kind: 'joint',
  id: 'Ek',
  symbol: 'E',
  subscript: 'k',
  name: 'Kinetic energy',
  definition: '½m·v².',
  dimension: dimension({ mass: 1, length: 2, time: -2 }),
  direction: 'size',
  needs: ['mass'],
  from: ['vx', 'vy'],
  at: ([vx, vy], { mass }) => ({
    value: (mass / 2) * (vx * vx + vy * vy),
    slopes: [mass * vx, mass * vy],
  }),
}
