import { type Evaluate, FitError } from '../../regression/index.ts'
import { term } from './formula.ts'
import { AS_KNOWN, type Model } from './model.ts'
import { bestOf, even } from './starts.ts'

/** c·x^p. */
const on =
  (places: ArrayLike<number>): Evaluate =>
  ([factor, power], values, jacobian) => {
    for (let i = 0; i < places.length; i++) {
      const raised = places[i] ** power
      values[i] = factor * raised
      if (!jacobian) continue
      jacobian[0][i] = raised
      jacobian[1][i] = places[i] > 0 ? factor * raised * Math.log(places[i]) : 0
    }
  }

/** @throws FitError where something is not above zero */
export function mustBePositive(places: Float64Array): void {
  const at = places.findIndex((place) => !(place > 0))
  if (at >= 0) throw new FitError({ code: 'not-positive' })
}

/** A power law: c·x^p. */
export const power: Model = {
  id: 'power',
  name: 'Power',
  group: 'relation',
  law: ({ order }) => {
    if (order === 2) return null
    return {
      parameters: [
        { symbol: 'c', subscript: '', name: 'value at 1', dimension: { value: 1 } },
        { symbol: 'p', subscript: '', name: 'exponent', dimension: {} },
      ],
      readings: [
        {
          key: 'exponent',
          name: 'Exponent',
          symbol: 'p',
          subscript: '',
          dimension: {},
          of: ([, exponent]) => exponent,
        },
      ],
      formula: ([factor, exponent], along) => term(factor, `${along}^{${exponent}}`),
      linear: [0],
      ...AS_KNOWN,
      on,
      begin: (places, values) => {
        mustBePositive(places)
        return {
          starts: bestOf(
            on,
            [0],
            even(-4, 6, 21).map((one) => [0, one]),
            places,
            values,
            2,
          ),
        }
      },
    }
  },
}
