import { byMass, dimension, type JointQuantity } from './quantity.ts'

export const momentumX: JointQuantity = {
  kind: 'joint',
  id: 'px',
  symbol: 'p',
  subscript: 'x',
  name: 'Momentum along x',
  definition: 'm·vₓ.',
  dimension: dimension({ mass: 1, length: 1, time: -1 }),
  direction: 'x',
  needs: ['mass'],
  from: ['vx'],
  at: ([vx], world) => ({
    value: world.mass * vx,
    slopes: [world.mass],
    common: byMass(world, vx),
  }),
}
