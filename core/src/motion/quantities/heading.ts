import { type DerivedQuantity, DIRECTION_THRESHOLD, dimension } from './quantity.ts'

export const heading: DerivedQuantity = {
  kind: 'derived',
  id: 'heading',
  symbol: 'β',
  subscript: '',
  name: 'Direction of motion',
  dimension: dimension({ angle: 1 }),
  direction: 'size',
  needs: [],
  from: ['vx', 'vy'],
  evaluate: ([vx, vy], _constants, errors) => {
    const square = vx * vx + vy * vy
    if (!(Math.sqrt(square) > DIRECTION_THRESHOLD * Math.max(...errors))) return null
    return { value: Math.atan2(vy, vx), gradient: [-vy / square, vx / square] }
  },
}
