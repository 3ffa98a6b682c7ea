import { dimension, type MultiBodyQuantity, massSensitivity } from './quantity.ts'

export const totalKineticEnergy: MultiBodyQuantity = {
  kind: 'multiBody',
  id: 'sumEk',
  symbol: 'ΣE',
  subscript: 'k',
  name: 'Total kinetic energy',
  dimension: dimension({ mass: 1, length: 2, time: -2 }),
  direction: 'size',
  needs: ['masses'],
  among: 'all',
  from: ['vx', 'vy'],
  evaluate: (values, constants) => ({
    value: values.reduce((sum, [vx, vy], i) => sum + (constants[i].mass / 2) * (vx * vx + vy * vy), 0),
    gradient: values.flatMap(([vx, vy], i) => [constants[i].mass * vx, constants[i].mass * vy]),
    common: values.flatMap(([vx, vy], i) => massSensitivity(constants[i], (vx * vx + vy * vy) / 2)),
  }),
}
