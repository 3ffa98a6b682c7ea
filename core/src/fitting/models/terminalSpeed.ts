import type { Evaluate } from '../../regression/index.ts'
import { less, sum, term, times, whole } from './formula.ts'
import type { Model } from './model.ts'
import { bestOf, geometric, shortAgainst, spanOf } from './starts.ts'

/** c + v∞·t + B·e^(−kt), or its derivative, with B and k of the column itself. */
const on =
  (order: 0 | 1 | 2) =>
  (places: ArrayLike<number>): Evaluate =>
  (own, values, jacobian) => {
    const size = own[own.length - 2]
    const rate = own[own.length - 1]
    for (let i = 0; i < places.length; i++) {
      const t = places[i]
      const left = Math.exp(-rate * t)
      values[i] = size * left + (order === 0 ? own[0] + own[1] * t : order === 1 ? own[0] : 0)
      if (!jacobian) continue
      if (order < 2) jacobian[0][i] = 1
      if (order === 0) jacobian[1][i] = t
      jacobian[own.length - 2][i] = left
      jacobian[own.length - 1][i] = -t * size * left
    }
  }

/**
 * A speed that approaches a last one under a drag that is proportional to it, from any start: v∞ + (v₀ − v∞)·e^(−t/τ),
 * and the position that belongs to it.
 */
export const terminalSpeed: Model = {
  id: 'terminal-speed',
  name: 'Terminal speed, from any start',
  group: 'settling',
  law: ({ order, letter, isAngle }) => {
    if (order === null || order === 2) return null
    const v = isAngle ? 'ω' : 'v'
    const isPlace = order === 0
    const speed = isPlace ? { value: 1, along: -1 } : { value: 1 }
    const limit = { symbol: v, subscript: '∞', dimension: speed }
    const tau = { symbol: 'τ', subscript: '', dimension: { along: 1 } }
    const linear = isPlace ? [0, 1, 2] : [0, 1]
    const place = { symbol: letter, subscript: '0', name: 'position at t = 0', dimension: { value: 1 } }
    return {
      parameters: [
        ...(isPlace ? [place] : []),
        { ...limit, name: 'terminal velocity' },
        { symbol: v, subscript: '0', name: 'velocity at t = 0', dimension: speed },
        { ...tau, name: 'time constant' },
      ],
      readings: [
        { ...limit, key: 'terminal', name: 'Terminal velocity', of: (shown) => shown[shown.length - 3] },
        { ...tau, key: 'time-constant', name: 'Time constant', of: (shown) => shown[shown.length - 1] },
      ],
      formula: (given, along) => {
        const [last, first, time] = given.slice(-3)
        const gone = `e^{-${along}/${whole(time)}}`
        return isPlace
          ? sum(given[0], term(last, along), times(`(${less(first, last)})`, `${time}\\,(1 - ${gone})`))
          : sum(last, `(${less(first, last)})\\,${gone}`)
      },
      linear,
      on: on(order),
      begin: (places, values) => {
        const { span } = spanOf(places)
        const tried = geometric(0.3, 80, 28).map((rate) => [...linear.map(() => 0), rate / span])
        return { starts: bestOf(on(order), linear, tried, places, values, 2) }
      },
      doubt: (shown, where) => shortAgainst(shown[shown.length - 1], where),
      toShown: (own, zero) => {
        const rate = own[own.length - 1]
        const size = own[own.length - 2] * Math.exp(rate * zero)
        // Of a position the exponential's slope is the velocity's.
        if (isPlace) return [own[0] - own[1] * zero + size, own[1], own[1] - rate * size, 1 / rate]
        return [own[0], own[0] + size, 1 / rate]
      },
      fromShown: (shown, zero) => {
        const [last, first, time] = shown.slice(-3)
        const left = Math.exp(-zero / time)
        if (!isPlace) return [last, (first - last) * left, 1 / time]
        const size = (last - first) * time
        return [shown[0] - size + last * zero, last, size * left, 1 / time]
      },
    }
  },
}
