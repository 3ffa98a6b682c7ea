import { type DerivedQuantity, dimension, massSensitivity } from './quantity.ts'

export const momentumY: DerivedQuantity = {
  kind: 'derived',
  id: 'py',
  symbol: 'p',
  subscript: 'y',
  name: 'Momentum along y',
  dimension: dimension({ mass: 1, length: 1, time: -1 }),
  direction: 'y',
  needs: ['mass'],
  from: ['vy'],
  evaluate: ([vy], constants) => ({
    value: constants.mass * vy,
    gradient: [constants.mass],
    common: massSensitivity(constants, vy),
  }),
}
