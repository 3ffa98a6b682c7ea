import { type DerivedQuantity, dimension, massSensitivity } from './quantity.ts'

export const momentumSize: DerivedQuantity = {
  kind: 'derived',
  id: 'p',
  symbol: 'p',
  subscript: '',
  name: 'Size of the momentum',
  dimension: dimension({ mass: 1, length: 1, time: -1 }),
  direction: 'size',
  needs: ['mass'],
  from: ['v'],
  evaluate: ([v], constants) => ({
    value: constants.mass * v,
    gradient: [constants.mass],
    common: massSensitivity(constants, v),
  }),
}
