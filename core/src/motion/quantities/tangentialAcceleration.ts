import { type DerivedQuantity, DIRECTION_THRESHOLD, dimension } from './quantity.ts'

export const tangentialAcceleration: DerivedQuantity = {
  kind: 'derived',
  id: 'at',
  symbol: 'a',
  subscript: 't',
  name: 'Tangential acceleration',
  dimension: dimension({ length: 1, time: -2 }),
  direction: 'size',
  needs: [],
  from: ['vx', 'vy', 'ax', 'ay'],
  evaluate: ([vx, vy, ax, ay], _constants, [ex, ey]) => {
    const speed = Math.hypot(vx, vy)
    if (!(speed > DIRECTION_THRESHOLD * Math.max(ex, ey))) return null
    const [alongX, alongY] = [vx / speed, vy / speed]
    const value = alongX * ax + alongY * ay
    // A velocity that turns a little takes the direction along with it.
    const across = (alongX * ay - alongY * ax) / speed
    return { value, gradient: [-alongY * across, alongX * across, alongX, alongY] }
  },
}
