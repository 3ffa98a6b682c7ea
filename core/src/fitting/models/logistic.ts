import type { Evaluate } from '../../regression/index.ts'
import { less, term, whole } from './formula.ts'
import { letterOf, type Model } from './model.ts'
import { bestOf, even, geometric, spanOf } from './starts.ts'

/** K/(1 + e^(−(t−t₀)/τ)), with K, τ and t₀. */
const on =
  (places: ArrayLike<number>): Evaluate =>
  ([limit, time, middle], values, jacobian) => {
    for (let i = 0; i < places.length; i++) {
      const u = (places[i] - middle) / time
      const share = 1 / (1 + Math.exp(-u))
      values[i] = limit * share
      if (!jacobian) continue
      const steep = (limit * share * (1 - share)) / time
      jacobian[0][i] = share
      jacobian[1][i] = -u * steep
      jacobian[2][i] = -steep
    }
  }

/** Logistic growth: y∞/(1 + e^(−(t−t₀)/τ)). */
export const logistic: Model = {
  id: 'logistic',
  name: 'Logistic',
  group: 'settling',
  law: (setting) => {
    const symbol = letterOf(setting)
    const limit = { symbol, subscript: '∞', dimension: { value: 1 } }
    const tau = { symbol: 'τ', subscript: '', dimension: { along: 1 } }
    const middle = { symbol: 't', subscript: '0', dimension: { along: 1 } }
    return {
      parameters: [
        { ...limit, name: 'limit' },
        { ...tau, name: 'time constant; below zero where it falls' },
        { ...middle, name: 'moment in which half of it is reached' },
      ],
      readings: [
        { ...limit, key: 'limit', name: 'Limit', of: ([last]) => last },
        { ...tau, key: 'time-constant', name: 'Time constant', of: ([, time]) => time },
        { ...middle, key: 'middle', name: 'Half of it at', of: ([, , at]) => at },
      ],
      formula: ([last, time, at], along) =>
        term(`\\frac{${last}}{1 + e^{-(${less(along, at)})/${whole(time)}}}`),
      linear: [0],
      on,
      begin: (places, values) => {
        const { from, span } = spanOf(places)
        const tried = geometric(0.01, 1, 12).flatMap((time) =>
          even(-0.3, 1.3, 17).flatMap((at) =>
            [1, -1].map((sign) => [0, sign * time * span, from + at * span]),
          ),
        )
        return { starts: bestOf(on, [0], tried, places, values, 3) }
      },
      toShown: ([last, time, at], zero) => [last, time, at + zero],
      fromShown: ([last, time, at], zero) => [last, time, at - zero],
    }
  },
}
