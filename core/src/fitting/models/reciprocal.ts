import type { Model } from './model.ts'
import { oneFactorLaw } from './oneFactor.ts'

/** A reciprocal: c/x. */
export const reciprocal: Model = {
  id: 'reciprocal',
  name: 'Reciprocal',
  group: 'relation',
  law: ({ order }) =>
    order === 2
      ? null
      : oneFactorLaw(
          (x) => 1 / x,
          ([factor], along) => `\\frac{${factor}}{${along}}`,
          1,
        ),
}
