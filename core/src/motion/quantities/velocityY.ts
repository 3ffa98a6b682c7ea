import { type DerivativeQuantity, dimension } from './quantity.ts'

export const velocityY: DerivativeQuantity = {
  kind: 'derivative',
  id: 'vy',
  symbol: 'v',
  subscript: 'y',
  name: 'Velocity along y',
  dimension: dimension({ length: 1, time: -1 }),
  direction: 'y',
  needs: [],
  of: 'y',
  order: 1,
}
