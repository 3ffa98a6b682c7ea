import { type DerivativeQuantity, dimension } from './quantity.ts'

export const spin: DerivativeQuantity = {
  kind: 'derivative',
  id: 'spin',
  symbol: 'ω',
  subscript: '',
  name: 'Spin',
  dimension: dimension({ angle: 1, time: -1 }),
  direction: 'size',
  needs: ['second'],
  of: 'turn',
  order: 1,
}
