import { dimension, type PlaceQuantity } from './quantity.ts'

export const distanceFromOrigin: PlaceQuantity = {
  kind: 'place',
  id: 'r',
  symbol: 'r',
  subscript: '',
  name: 'Distance from the origin',
  definition: '√(x² + y²).',
  dimension: dimension({ length: 1 }),
  direction: 'size',
  needs: [],
  letter: 'r',
  turns: false,
  at: ({ x, y }) => {
    const value = Math.hypot(x, y)
    return value > 0 ? { value, slopes: [x / value, y / value] } : { value, slopes: [1, 0] }
  },
}
