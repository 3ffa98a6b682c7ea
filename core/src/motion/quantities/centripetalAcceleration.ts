import { type DerivedQuantity, DIRECTION_THRESHOLD, dimension } from './quantity.ts'

export const centripetalAcceleration: DerivedQuantity = {
  kind: 'derived',
  id: 'ac',
  symbol: 'a',
  subscript: 'c',
  name: 'Centripetal acceleration',
  dimension: dimension({ length: 1, time: -2 }),
  direction: 'size',
  needs: [],
  from: ['vx', 'vy', 'ax', 'ay'],
  evaluate: ([vx, vy, ax, ay], _constants, [ex, ey]) => {
    const speed = Math.hypot(vx, vy)
    if (!(speed > DIRECTION_THRESHOLD * Math.max(ex, ey))) return null
    const [alongX, alongY] = [vx / speed, vy / speed]
    const left = alongX * ay - alongY * ax
    const sign = left < 0 ? -1 : 1
    const along = (alongX * ax + alongY * ay) / speed
    return {
      value: Math.abs(left),
      gradient: [alongY * along, -alongX * along, -alongY, alongX].map((slope) => sign * slope),
    }
  },
}
