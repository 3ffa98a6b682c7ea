import type { Evaluate } from '../../regression/index.ts'
import { term, whole } from './formula.ts'
import { letterOf, type Model } from './model.ts'
import { bestOf, geometric, spanOf } from './starts.ts'

/** A·e^(−kt), with A and k. */
const on =
  (places: ArrayLike<number>): Evaluate =>
  ([size, rate], values, jacobian) => {
    for (let i = 0; i < places.length; i++) {
      const left = Math.exp(-rate * places[i])
      values[i] = size * left
      if (!jacobian) continue
      jacobian[0][i] = left
      jacobian[1][i] = -places[i] * size * left
    }
  }

/** Exponential decay, or growth: y₀·e^(−t/τ). */
export const exponential: Model = {
  id: 'exponential',
  name: 'Exponential',
  group: 'settling',
  law: (setting) => {
    const symbol = letterOf(setting)
    const tau = { symbol: 'τ', subscript: '', dimension: { along: 1 } }
    return {
      ...(setting.order === 1 && { name: 'Coasting to a stop' }),
      parameters: [
        { symbol, subscript: '0', name: 'value at t = 0', dimension: { value: 1 } },
        { ...tau, name: 'time constant' },
      ],
      readings: [
        { ...tau, key: 'time-constant', name: 'Time constant', of: ([, time]) => time },
        {
          key: 'half-life',
          name: 'Half-life',
          symbol: 't',
          subscript: '½',
          dimension: { along: 1 },
          of: ([, time]) => Math.LN2 * time,
        },
      ],
      formula: ([size, time], along) =>
        term(
          size,
          `e^{${time.startsWith('-') ? `${along}/${whole(time.slice(1))}` : `-${along}/${whole(time)}`}}`,
        ),
      linear: [0],
      on,
      begin: (places, values) => {
        const { span } = spanOf(places)
        const rates = geometric(0.02, 60, 24).map((rate) => rate / span)
        const tried = [...rates, ...rates.map((rate) => -rate)].map((rate) => [0, rate])
        return { starts: bestOf(on, [0], tried, places, values, 2) }
      },
      toShown: ([size, rate], zero) => [size * Math.exp(rate * zero), 1 / rate],
      fromShown: ([size, time], zero) => [size * Math.exp(-zero / time), 1 / time],
    }
  },
}
