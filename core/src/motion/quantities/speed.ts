import { dimension, type JointQuantity } from './quantity.ts'

export const speed: JointQuantity = {
  kind: 'joint',
  id: 'v',
  symbol: 'v',
  subscript: '',
  name: 'Speed',
  definition: '√(vₓ² + v_y²).',
  dimension: dimension({ length: 1, time: -1 }),
  direction: 'size',
  needs: [],
  from: ['vx', 'vy'],
  at: ([vx, vy]) => {
    const value = Math.hypot(vx, vy)
    return value > 0 ? { value, slopes: [vx / value, vy / value] } : { value, slopes: [1, 0] }
  },
}
