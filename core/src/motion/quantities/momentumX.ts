import { type DerivedQuantity, dimension, massSensitivity } from './quantity.ts'

export const momentumX: DerivedQuantity = {
  kind: 'derived',
  id: 'px',
  symbol: 'p',
  subscript: 'x',
  name: 'Momentum along x',
  dimension: dimension({ mass: 1, length: 1, time: -1 }),
  direction: 'x',
  needs: ['mass'],
  from: ['vx'],
  evaluate: ([vx], constants) => ({
    value: constants.mass * vx,
    gradient: [constants.mass],
    common: massSensitivity(constants, vx),
  }),
}
