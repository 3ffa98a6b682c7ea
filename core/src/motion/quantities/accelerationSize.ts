import { type DerivedQuantity, dimension } from './quantity.ts'

export const accelerationSize: DerivedQuantity = {
  kind: 'derived',
  id: 'a',
  symbol: 'a',
  subscript: '',
  name: 'Size of the acceleration',
  dimension: dimension({ length: 1, time: -2 }),
  direction: 'size',
  needs: [],
  from: ['ax', 'ay'],
  evaluate: ([ax, ay]) => {
    const value = Math.hypot(ax, ay)
    return value > 0 ? { value, gradient: [ax / value, ay / value] } : { value, gradient: [1, 0] }
  },
}
