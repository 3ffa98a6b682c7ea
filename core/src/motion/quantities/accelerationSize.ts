import { dimension, type JointQuantity } from './quantity.ts'

export const accelerationSize: JointQuantity = {
  kind: 'joint',
  id: 'a',
  symbol: 'a',
  subscript: '',
  name: 'Size of the acceleration',
  definition: '√(aₓ² + a_y²).',
  dimension: dimension({ length: 1, time: -2 }),
  direction: 'size',
  needs: [],
  from: ['ax', 'ay'],
  at: ([ax, ay]) => {
    const value = Math.hypot(ax, ay)
    return value > 0 ? { value, slopes: [ax / value, ay / value] } : { value, slopes: [1, 0] }
  },
}
