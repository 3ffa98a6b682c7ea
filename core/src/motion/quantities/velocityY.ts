import { type DerivativeQuantity, dimension } from './quantity.ts'

export const velocityY: DerivativeQuantity = {
  kind: 'derivative',
  id: 'vy',
  symbol: 'v',
  subscript: 'y',
  name: 'Velocity along y',
  definition: 'How fast the position along y changes.',
  dimension: dimension({ length: 1, time: -1 }),
  direction: 'y',
  needs: [],
  of: 'y',
  order: 1,
}
