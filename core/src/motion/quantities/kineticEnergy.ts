import { byMass, dimension, type JointQuantity } from './quantity.ts'

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
  at: ([vx, vy], world) => ({
    value: (world.mass / 2) * (vx * vx + vy * vy),
    slopes: [world.mass * vx, world.mass * vy],
    common: byMass(world, (vx * vx + vy * vy) / 2),
  }),
}
