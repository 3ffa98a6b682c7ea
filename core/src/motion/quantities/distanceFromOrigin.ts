import { dimension, type PositionQuantity } from './quantity.ts'

export const distanceFromOrigin: PositionQuantity = {
  kind: 'position',
  id: 'r',
  symbol: 'r',
  subscript: '',
  name: 'Distance from the origin',
  dimension: dimension({ length: 1 }),
  direction: 'size',
  needs: [],
  letter: 'r',
  turns: false,
  evaluate: ({ x, y }) => {
    const value = Math.hypot(x, y)
    return value > 0 ? { value, gradient: [x / value, y / value] } : { value, gradient: [1, 0] }
  },
}
