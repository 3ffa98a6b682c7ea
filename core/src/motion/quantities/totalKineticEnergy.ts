import { byMass, dimension, type SharedQuantity } from './quantity.ts'

export const totalKineticEnergy: SharedQuantity = {
  kind: 'shared',
  id: 'sumEk',
  symbol: 'ΣE',
  subscript: 'k',
  name: 'Total kinetic energy',
  definition: 'Σ½mᵢvᵢ², of all bodies.',
  dimension: dimension({ mass: 1, length: 2, time: -2 }),
  direction: 'size',
  needs: ['masses'],
  among: 'all',
  from: ['vx', 'vy'],
  at: (values, worlds) => ({
    value: values.reduce((sum, [vx, vy], i) => sum + (worlds[i].mass / 2) * (vx * vx + vy * vy), 0),
    slopes: values.flatMap(([vx, vy], i) => [worlds[i].mass * vx, worlds[i].mass * vy]),
    common: values.flatMap(([vx, vy], i) => byMass(worlds[i], (vx * vx + vy * vy) / 2)),
  }),
}
