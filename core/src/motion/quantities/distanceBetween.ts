import { dimension, type MultiBodyQuantity } from './quantity.ts'

export const distanceBetween: MultiBodyQuantity = {
  kind: 'multiBody',
  id: 'd',
  symbol: 'd',
  subscript: '',
  name: 'Distance to another body',
  dimension: dimension({ length: 1 }),
  direction: 'size',
  needs: ['other'],
  among: 'pair',
  from: ['x', 'y'],
  evaluate: ([[x, y], [otherX, otherY]]) => {
    const value = Math.hypot(otherX - x, otherY - y)
    const [alongX, alongY] = value > 0 ? [(otherX - x) / value, (otherY - y) / value] : [1, 0]
    return { value, gradient: [-alongX, -alongY, alongX, alongY] }
  },
}
