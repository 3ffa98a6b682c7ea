import { type DerivativeQuantity, dimension } from './quantity.ts'

export const velocityX: DerivativeQuantity = {
  kind: 'derivative',
  id: 'vx',
  symbol: 'v',
  subscript: 'x',
  name: 'Velocity along x',
  dimension: dimension({ length: 1, time: -1 }),
  direction: 'x',
  needs: [],
  of: 'x',
  order: 1,
}
