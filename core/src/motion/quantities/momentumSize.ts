import { byMass, dimension, type JointQuantity } from './quantity.ts'

export const momentumSize: JointQuantity = {
  kind: 'joint',
  id: 'p',
  symbol: 'p',
  subscript: '',
  name: 'Size of the momentum',
  definition: 'm·v.',
  dimension: dimension({ mass: 1, length: 1, time: -1 }),
  direction: 'size',
  needs: ['mass'],
  from: ['v'],
  at: ([v], world) => ({
    value: world.mass * v,
    slopes: [world.mass],
    common: byMass(world, v),
  }),
}
