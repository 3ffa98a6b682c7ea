import { dimension, type JointQuantity } from './quantity.ts'

export const potentialEnergy: JointQuantity = {
  kind: 'joint',
  id: 'Ep',
  symbol: 'E',
  subscript: 'p',
  name: 'Potential energy',
  definition: 'm·g·h, with the height h above the origin against the direction in which things fall, however the axes lie.',
  dimension: dimension({ mass: 1, length: 2, time: -2 }),
  direction: 'size',
  needs: ['mass', 'scale'],
  from: ['x', 'y'],
  at: ([x, y], { mass, g, down }) => ({
    value: -mass * g * (down.x * x + down.y * y),
    slopes: [-mass * g * down.x, -mass * g * down.y],
  }),
}
