import { dimension, type MultiBodyQuantity } from './quantity.ts'
import { weighted } from './weighted.ts'

export const centreVelocityY: MultiBodyQuantity = {
  kind: 'multiBody',
  id: 'cmvy',
  symbol: 'v',
  subscript: 'CMy',
  name: 'Velocity of the centre of mass along y',
  dimension: dimension({ length: 1, time: -1 }),
  direction: 'y',
  needs: ['masses'],
  among: 'all',
  from: ['vy'],
  evaluate: (values, constants) => weighted(values, constants, 'mean'),
}
