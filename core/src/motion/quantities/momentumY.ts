import { byMass, dimension, type JointQuantity } from './quantity.ts'

export const momentumY: JointQuantity = {
  kind: 'joint',
  id: 'py',
  symbol: 'p',
  subscript: 'y',
  name: 'Momentum along y',
  definition: 'm·v_y.',
  dimension: dimension({ mass: 1, length: 1, time: -1 }),
  direction: 'y',
  needs: ['mass'],
  from: ['vy'],
  at: ([vy], world) => ({
    value: world.mass * vy,
    slopes: [world.mass],
    common: byMass(world, vy),
  }),
}
