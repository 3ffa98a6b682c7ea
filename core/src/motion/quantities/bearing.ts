import { dimension, type MultiBodyQuantity } from './quantity.ts'

export const bearing: MultiBodyQuantity = {
  kind: 'multiBody',
  id: 'bearing',
  symbol: 'γ',
  subscript: '',
  name: 'Bearing of another body',
  dimension: dimension({ angle: 1 }),
  direction: 'size',
  needs: ['other'],
  among: 'pair',
  from: ['x', 'y'],
  evaluate: ([[x, y], [otherX, otherY]]) => {
    const [dx, dy] = [otherX - x, otherY - y]
    const square = dx * dx + dy * dy
    if (square === 0) return null
    const [byX, byY] = [-dy / square, dx / square]
    return { value: Math.atan2(dy, dx), gradient: [-byX, -byY, byX, byY] }
  },
}
