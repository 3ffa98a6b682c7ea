import { dimension, type MultiBodyQuantity } from './quantity.ts'
import { weighted } from './weighted.ts'

export const centreOfMassY: MultiBodyQuantity = {
  kind: 'multiBody',
  id: 'cmy',
  symbol: 'y',
  subscript: 'CM',
  name: 'Centre of mass along y',
  dimension: dimension({ length: 1 }),
  direction: 'y',
  needs: ['masses'],
  among: 'all',
  from: ['y'],
  evaluate: (values, constants) => weighted(values, constants, 'mean'),
}
