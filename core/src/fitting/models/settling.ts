import type { Evaluate } from '../../regression/index.ts'
import { less, sum, whole } from './formula.ts'
import type { Model } from './model.ts'
import { bestOf, geometric, shortAgainst, spanOf } from './starts.ts'

/** y∞ + B·e^(−kt), with y∞, B and k. */
const on =
  (places: ArrayLike<number>): Evaluate =>
  ([limit, size, rate], values, jacobian) => {
    for (let i = 0; i < places.length; i++) {
      const left = Math.exp(-rate * places[i])
      values[i] = limit + size * left
      if (!jacobian) continue
      jacobian[0][i] = 1
      jacobian[1][i] = left
      jacobian[2][i] = -places[i] * size * left
    }
  }

/** Approach to a limit from any start: y∞ + (y₀ − y∞)·e^(−t/τ). */
export const settling: Model = {
  id: 'settling',
  name: 'Approach to a limit',
  group: 'settling',
  law: ({ order, letter }) => {
    // A velocity that approaches a limit is that of a body with a terminal speed.
    if (order === 1 || order === 2) return null
    const tau = { symbol: 'τ', subscript: '', dimension: { along: 1 } }
    const limit = { symbol: letter, subscript: '∞', dimension: { value: 1 } }
    return {
      parameters: [
        { ...limit, name: 'limit' },
        { symbol: letter, subscript: '0', name: 'value at t = 0', dimension: { value: 1 } },
        { ...tau, name: 'time constant' },
      ],
      readings: [
        { ...limit, key: 'limit', name: 'Limit', of: ([last]) => last },
        { ...tau, key: 'time-constant', name: 'Time constant', of: ([, , time]) => time },
      ],
      formula: ([last, first, time], along) =>
        sum(last, `(${less(first, last)})\\,e^{-${along}/${whole(time)}}`),
      linear: [0, 1],
      on,
      begin: (places, values) => {
        const { span } = spanOf(places)
        const tried = geometric(0.05, 80, 28).map((rate) => [0, 0, rate / span])
        return { starts: bestOf(on, [0, 1], tried, places, values, 2) }
      },
      doubt: ([, , time], where) => shortAgainst(time, where),
      toShown: ([last, size, rate], zero) => [last, last + size * Math.exp(rate * zero), 1 / rate],
      fromShown: ([last, first, time], zero) => [last, (first - last) * Math.exp(-zero / time), 1 / time],
    }
  },
}
