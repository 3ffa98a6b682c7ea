import { dimension, type PositionQuantity } from './quantity.ts'

export const orientation: PositionQuantity = {
  kind: 'position',
  id: 'turn',
  symbol: 'φ',
  subscript: '',
  name: 'Orientation',
  dimension: dimension({ angle: 1 }),
  direction: 'size',
  needs: ['second'],
  letter: 'φ',
  turns: true,
  evaluate: (place, _constants, second) => {
    if (!second) return null
    const [x, y] = [second.x - place.x, second.y - place.y]
    const square = x * x + y * y
    if (square === 0) return null
    const [byX, byY] = [-y / square, x / square]
    return { value: Math.atan2(y, x), gradient: [-byX, -byY, byX, byY] }
  },
}
