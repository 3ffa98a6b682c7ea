import { dimension, type PositionQuantity } from './quantity.ts'

const SLOPES = [1, 0] as const

export const positionX: PositionQuantity = {
  kind: 'position',
  id: 'x',
  symbol: 'x',
  subscript: '',
  name: 'Position along x',
  dimension: dimension({ length: 1 }),
  direction: 'x',
  needs: [],
  letter: 'x',
  turns: false,
  evaluate: ({ x }) => ({ value: x, gradient: SLOPES }),
}
