import { byFreeFall, byMass, dimension, type JointQuantity } from './quantity.ts'

export const potentialEnergy: JointQuantity = {
  kind: 'joint',
  id: 'Ep',
  symbol: 'E',
  subscript: 'p',
  name: 'Potential energy',
  definition:
    'm·g·h, with the height h above the origin against the direction in which things fall, however the axes lie.',
  dimension: dimension({ mass: 1, length: 2, time: -2 }),
  direction: 'size',
  needs: ['mass', 'scale'],
  from: ['x', 'y'],
  at: ([x, y], world) => {
    const { mass, g, down } = world
    const height = -(down.x * x + down.y * y)
    return {
      value: mass * g * height,
      slopes: [-mass * g * down.x, -mass * g * down.y],
      common: [...byMass(world, g * height), ...byFreeFall(world, mass * height)],
    }
  },
}
