import { dimension, type MultiBodyQuantity } from './quantity.ts'
import { weighted } from './weighted.ts'

export const totalMomentumY: MultiBodyQuantity = {
  kind: 'multiBody',
  id: 'sumPy',
  symbol: 'Σp',
  subscript: 'y',
  name: 'Total momentum along y',
  dimension: dimension({ mass: 1, length: 1, time: -1 }),
  direction: 'y',
  needs: ['masses'],
  among: 'all',
  from: ['vy'],
  evaluate: (values, constants) => weighted(values, constants, 'sum'),
}
