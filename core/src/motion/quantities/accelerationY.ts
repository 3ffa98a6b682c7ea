import { type DerivativeQuantity, dimension } from './quantity.ts'

export const accelerationY: DerivativeQuantity = {
  kind: 'derivative',
  id: 'ay',
  symbol: 'a',
  subscript: 'y',
  name: 'Acceleration along y',
  dimension: dimension({ length: 1, time: -2 }),
  direction: 'y',
  needs: [],
  of: 'y',
  order: 2,
}
