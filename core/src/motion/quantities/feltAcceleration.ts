import { dimension, type JointQuantity } from './quantity.ts'

export const feltAcceleration: JointQuantity = {
  kind: 'joint',
  id: 'felt',
  symbol: 'f',
  subscript: '',
  name: 'Felt acceleration',
  definition: 'What the body feels of acceleration and weight together, as a multiple of g: |a − g|/g. 1 at rest, 0 in free fall.',
  dimension: dimension({  }),
  unit: 'g',
  direction: 'size',
  needs: ['scale'],
  from: ['ax', 'ay'],
  at: ([ax, ay], { g, down }) => {
    const [x, y] = [ax / g - down.x, ay / g - down.y]
    const value = Math.hypot(x, y)
    return value > 0 ? { value, slopes: [x / (value * g), y / (value * g)] } : { value, slopes: [1 / g, 0] }
  },
}
