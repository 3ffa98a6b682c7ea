import { term } from './formula.ts'
import type { Model } from './model.ts'
import { oneFactorLaw } from './oneFactor.ts'

/** A square root: c·√x. */
export const squareRoot: Model = {
  id: 'square-root',
  name: 'Square root',
  group: 'relation',
  law: ({ order }) =>
    order === 2
      ? null
      : oneFactorLaw(Math.sqrt, ([factor], along) => term(factor, `\\sqrt{${along}}`), -1 / 2),
}
