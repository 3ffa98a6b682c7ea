import { dimension, type MultiBodyQuantity } from './quantity.ts'
import { weighted } from './weighted.ts'

export const centreOfMassX: MultiBodyQuantity = {
  kind: 'multiBody',
  id: 'cmx',
  symbol: 'x',
  subscript: 'CM',
  name: 'Centre of mass along x',
  dimension: dimension({ length: 1 }),
  direction: 'x',
  needs: ['masses'],
  among: 'all',
  from: ['x'],
  evaluate: (values, constants) => weighted(values, constants, 'mean'),
}
