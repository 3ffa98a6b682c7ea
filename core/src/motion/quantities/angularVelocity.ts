import { type DerivativeQuantity, dimension } from './quantity.ts'

export const angularVelocity: DerivativeQuantity = {
  kind: 'derivative',
  id: 'omega',
  symbol: 'ω',
  subscript: 'θ',
  name: 'Rate of the angle about the origin',
  dimension: dimension({ angle: 1, time: -1 }),
  direction: 'size',
  needs: [],
  of: 'theta',
  order: 1,
}
