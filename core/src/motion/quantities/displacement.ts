import { dimension, type PositionQuantity } from './quantity.ts'

export const displacement: PositionQuantity = {
  kind: 'position',
  id: 's',
  symbol: 's',
  subscript: '',
  name: 'Displacement along a direction',
  dimension: dimension({ length: 1 }),
  direction: 'size',
  needs: [],
  letter: 's',
  turns: false,
  evaluate: ({ x, y }, { along }) => ({ value: along.x * x + along.y * y, gradient: [along.x, along.y] }),
}
