import { dimension, type MultiBodyQuantity } from './quantity.ts'
import { weighted } from './weighted.ts'

export const totalMomentumX: MultiBodyQuantity = {
  kind: 'multiBody',
  id: 'sumPx',
  symbol: 'Σp',
  subscript: 'x',
  name: 'Total momentum along x',
  dimension: dimension({ mass: 1, length: 1, time: -1 }),
  direction: 'x',
  needs: ['masses'],
  among: 'all',
  from: ['vx'],
  evaluate: (values, constants) => weighted(values, constants, 'sum'),
}
