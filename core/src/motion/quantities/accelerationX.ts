import { type DerivativeQuantity, dimension } from './quantity.ts'

export const accelerationX: DerivativeQuantity = {
  kind: 'derivative',
  id: 'ax',
  symbol: 'a',
  subscript: 'x',
  name: 'Acceleration along x',
  dimension: dimension({ length: 1, time: -2 }),
  direction: 'x',
  needs: [],
  of: 'x',
  order: 2,
}
