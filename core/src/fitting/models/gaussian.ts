import type { Evaluate } from '../../regression/index.ts'
import { less, sum, term, whole } from './formula.ts'
import { letterOf, type Model } from './model.ts'
import { bestOf, even, geometric, spanOf } from './starts.ts'

/** c + A·e^(−(x−μ)²/(2σ²)), with c, A, μ and σ. */
const on =
  (places: ArrayLike<number>): Evaluate =>
  ([ground, size, middle, width], values, jacobian) => {
    for (let i = 0; i < places.length; i++) {
      const u = (places[i] - middle) / width
      const bell = Math.exp((-u * u) / 2)
      values[i] = ground + size * bell
      if (!jacobian) continue
      jacobian[0][i] = 1
      jacobian[1][i] = bell
      jacobian[2][i] = (size * bell * u) / width
      jacobian[3][i] = (size * bell * u * u) / width
    }
  }

/** A bell: c + A·e^(−(x−μ)²/(2σ²)). */
export const gaussian: Model = {
  id: 'gaussian',
  name: 'Gaussian',
  group: 'relation',
  law: (setting) => {
    const symbol = letterOf(setting)
    const middle = { symbol: 'μ', subscript: '', dimension: { along: 1 } }
    const width = { symbol: 'σ', subscript: '', dimension: { along: 1 } }
    const height = { symbol: 'A', subscript: '', dimension: { value: 1 } }
    return {
      parameters: [
        { symbol, subscript: 'g', name: 'ground', dimension: { value: 1 } },
        { ...height, name: 'height above the ground' },
        { ...middle, name: 'middle' },
        { ...width, name: 'width, a standard deviation' },
      ],
      readings: [
        { ...middle, key: 'middle', name: 'Middle', of: (shown) => shown[2] },
        { ...width, key: 'width', name: 'Width', of: (shown) => Math.abs(shown[3]) },
        { ...height, key: 'height', name: 'Height', of: (shown) => shown[1] },
      ],
      formula: ([ground, size, centre, spread], along) =>
        sum(ground, term(size, `e^{-(${less(along, centre)})^{2}/(2\\cdot ${whole(spread)}^{2})}`)),
      linear: [0, 1],
      on,
      begin: (places, values) => {
        const { from, to, span } = spanOf(places)
        const tried = even(from, to, 31).flatMap((centre) =>
          geometric(0.02, 1, 12).map((spread) => [0, 0, centre, spread * span]),
        )
        return { starts: bestOf(on, [0, 1], tried, places, values, 3) }
      },
      toShown: ([ground, size, centre, spread], zero) => [ground, size, centre + zero, Math.abs(spread)],
      fromShown: ([ground, size, centre, spread], zero) => [ground, size, centre - zero, spread],
    }
  },
}
