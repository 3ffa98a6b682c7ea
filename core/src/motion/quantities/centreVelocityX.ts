import { dimension, type MultiBodyQuantity } from './quantity.ts'
import { weighted } from './weighted.ts'

export const centreVelocityX: MultiBodyQuantity = {
  kind: 'multiBody',
  id: 'cmvx',
  symbol: 'v',
  subscript: 'CMx',
  name: 'Velocity of the centre of mass along x',
  dimension: dimension({ length: 1, time: -1 }),
  direction: 'x',
  needs: ['masses'],
  among: 'all',
  from: ['vx'],
  evaluate: (values, constants) => weighted(values, constants, 'mean'),
}
