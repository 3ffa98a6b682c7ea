import { type DerivedQuantity, dimension, freeFallSensitivity } from './quantity.ts'

export const feltAcceleration: DerivedQuantity = {
  kind: 'derived',
  id: 'felt',
  symbol: 'f',
  subscript: '',
  name: 'Felt acceleration',
  dimension: dimension({}),
  unit: 'g',
  direction: 'size',
  needs: ['scale'],
  from: ['ax', 'ay'],
  evaluate: ([ax, ay], constants) => {
    const { g, down } = constants
    const [x, y] = [ax / g - down.x, ay / g - down.y]
    const value = Math.hypot(x, y)
    const [alongX, alongY] = value > 0 ? [x / value, y / value] : [1, 0]
    return {
      value,
      gradient: [alongX / g, alongY / g],
      common: freeFallSensitivity(constants, -(alongX * ax + alongY * ay) / (g * g)),
    }
  },
}
