import { type DerivedQuantity, dimension, freeFallSensitivity, massSensitivity } from './quantity.ts'

export const potentialEnergy: DerivedQuantity = {
  kind: 'derived',
  id: 'Ep',
  symbol: 'E',
  subscript: 'p',
  name: 'Potential energy',
  dimension: dimension({ mass: 1, length: 2, time: -2 }),
  direction: 'size',
  needs: ['mass', 'scale'],
  from: ['x', 'y'],
  evaluate: ([x, y], constants) => {
    const { mass, g, down } = constants
    const height = -(down.x * x + down.y * y)
    return {
      value: mass * g * height,
      gradient: [-mass * g * down.x, -mass * g * down.y],
      common: [...massSensitivity(constants, g * height), ...freeFallSensitivity(constants, mass * height)],
    }
  },
}
