import { type DerivedQuantity, dimension } from './quantity.ts'

export const speed: DerivedQuantity = {
  kind: 'derived',
  id: 'v',
  symbol: 'v',
  subscript: '',
  name: 'Speed',
  dimension: dimension({ length: 1, time: -1 }),
  direction: 'size',
  needs: [],
  from: ['vx', 'vy'],
  evaluate: ([vx, vy]) => {
    const value = Math.hypot(vx, vy)
    return value > 0 ? { value, gradient: [vx / value, vy / value] } : { value, gradient: [1, 0] }
  },
}
