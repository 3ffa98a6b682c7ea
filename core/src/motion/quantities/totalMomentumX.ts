import { dimension, type SharedQuantity } from './quantity.ts'
import { weighted } from './weighted.ts'

export const totalMomentumX: SharedQuantity = {
  kind: 'shared',
  id: 'sumPx',
  symbol: 'Σp',
  subscript: 'x',
  name: 'Total momentum along x',
  definition: 'Σmᵢvₓᵢ, of all bodies.',
  dimension: dimension({ mass: 1, length: 1, time: -1 }),
  direction: 'x',
  needs: ['masses'],
  among: 'all',
  from: ['vx'],
  at: (values, worlds) => weighted(values, worlds, 'sum'),
}
