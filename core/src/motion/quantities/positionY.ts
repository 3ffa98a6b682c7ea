import { dimension, type PositionQuantity } from './quantity.ts'

const SLOPES = [0, 1] as const

export const positionY: PositionQuantity = {
  kind: 'position',
  id: 'y',
  symbol: 'y',
  subscript: '',
  name: 'Position along y',
  dimension: dimension({ length: 1 }),
  direction: 'y',
  needs: [],
  letter: 'y',
  turns: false,
  evaluate: ({ y }) => ({ value: y, gradient: SLOPES }),
}
