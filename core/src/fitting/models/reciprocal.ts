import type { Model } from './model.ts'
import { oneFactorLaw } from './oneFactor.ts'

/** A reciprocal: c/x. */
export const reciprocal: Model = {
  id: 'reciprocal',
  name: 'Reciprocal',
  group: 'relation',
  use: 'Twice as much of the one goes with half as much of the other.',
  law: ({ order }) =>
    order === 2
      ? null
      : oneFactorLaw(
          (x) => 1 / x,
          ([factor], along) => `\\frac{${factor}}{${along}}`,
          1,
        ),
}
