import { dimension, type MultiBodyQuantity, massSensitivity } from './quantity.ts'

export const totalMomentumSize: MultiBodyQuantity = {
  kind: 'multiBody',
  id: 'sumP',
  symbol: 'Σp',
  subscript: '',
  name: 'Size of the total momentum',
  dimension: dimension({ mass: 1, length: 1, time: -1 }),
  direction: 'size',
  needs: ['masses'],
  among: 'all',
  from: ['vx', 'vy'],
  evaluate: (values, constants) => {
    const [x, y] = [0, 1].map((k) => values.reduce((sum, one, i) => sum + constants[i].mass * one[k], 0))
    const value = Math.hypot(x, y)
    const [alongX, alongY] = value > 0 ? [x / value, y / value] : [1, 0]
    return {
      value,
      gradient: constants.flatMap(({ mass }) => [mass * alongX, mass * alongY]),
      common: constants.flatMap((constants, i) =>
        massSensitivity(constants, alongX * values[i][0] + alongY * values[i][1]),
      ),
    }
  },
}
