import { byFreeFall, dimension, type JointQuantity } from './quantity.ts'

export const feltAcceleration: JointQuantity = {
  kind: 'joint',
  id: 'felt',
  symbol: 'f',
  subscript: '',
  name: 'Felt acceleration',
  definition:
    'What the body feels of acceleration and weight together, as a multiple of g: |a − g|/g. 1 at rest, 0 in free fall.',
  dimension: dimension({}),
  unit: 'g',
  direction: 'size',
  needs: ['scale'],
  from: ['ax', 'ay'],
  at: ([ax, ay], world) => {
    const { g, down } = world
    const [x, y] = [ax / g - down.x, ay / g - down.y]
    const value = Math.hypot(x, y)
    const [alongX, alongY] = value > 0 ? [x / value, y / value] : [1, 0]
    return {
      value,
      slopes: [alongX / g, alongY / g],
      common: byFreeFall(world, -(alongX * ax + alongY * ay) / (g * g)),
    }
  },
}
