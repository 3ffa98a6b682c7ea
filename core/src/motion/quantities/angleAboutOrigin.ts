import { dimension, type PositionQuantity } from './quantity.ts'

export const angleAboutOrigin: PositionQuantity = {
  kind: 'position',
  id: 'theta',
  symbol: 'θ',
  subscript: '',
  name: 'Angle about the origin',
  dimension: dimension({ angle: 1 }),
  direction: 'size',
  needs: [],
  letter: 'θ',
  turns: true,
  evaluate: ({ x, y }) => {
    const square = x * x + y * y
    return square > 0 ? { value: Math.atan2(y, x), gradient: [-y / square, x / square] } : null
  },
}
