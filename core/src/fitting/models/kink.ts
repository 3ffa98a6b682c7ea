import type { Evaluate } from '../../regression/index.ts'
import { less, sum, term } from './formula.ts'
import type { LawParameter, LawReading, Model } from './model.ts'
import { bestOf, even } from './starts.ts'

/** Places of the kink that are tried at most, and how many of the best are followed. */
const MOST_TRIED = 120
const FOLLOWED = 4

/** Value at the kink, slopes before and after it, and its place. */
const on =
  (places: ArrayLike<number>): Evaluate =>
  ([value, before, after, kink], values, jacobian) => {
    for (let i = 0; i < places.length; i++) {
      const since = places[i] - kink
      const slope = since < 0 ? before : after
      values[i] = value + slope * since
      if (!jacobian) continue
      jacobian[0][i] = 1
      jacobian[1][i] = Math.min(0, since)
      jacobian[2][i] = Math.max(0, since)
      jacobian[3][i] = -slope
    }
  }

/** Two straight lines that meet in a kink (Hudson, J. Am. Statist. Assoc. 61 (1966) 1097). */
export const kink: Model = {
  id: 'kink',
  name: 'Two straight lines with a kink',
  group: 'before-and-after',
  law: ({ order, letter, isAngle, form }) => {
    if (order === 2) return null
    const isPlace = order === 0
    const slope =
      order === null || form === 'coefficients' ? 'k' : isPlace ? (isAngle ? 'ω' : 'v') : isAngle ? 'α' : 'a'
    const what = order === null ? 'slope' : isPlace ? 'velocity' : 'acceleration'
    const What = `${what[0].toUpperCase()}${what.slice(1)}`
    const dimension = { value: 1, along: -1 }
    const at = { symbol: 't', subscript: 'k', dimension: { along: 1 } }
    const parameters: LawParameter[] = [
      {
        symbol: order === 1 ? 'v' : letter,
        subscript: 'k',
        name: 'value at the kink',
        dimension: { value: 1 },
      },
      { symbol: slope, subscript: '1', name: `${what} before`, dimension },
      { symbol: slope, subscript: '2', name: `${what} after`, dimension },
      { ...at, name: 'moment of the kink' },
    ]
    const readings: LawReading[] = [
      { ...parameters[1], key: 'before', name: `${What} before`, dimension, of: ([, before]) => before },
      { ...parameters[2], key: 'after', name: `${What} after`, dimension, of: ([, , after]) => after },
      {
        key: 'change',
        name: `Change of ${what}`,
        symbol: `Δ${slope}`,
        subscript: '',
        dimension,
        of: ([, before, after]) => after - before,
      },
      { ...at, key: 'kink', name: 'Kink at', of: (shown) => shown[3] },
    ]
    return {
      parameters,
      readings,
      formula: ([value, before, after, moment], along) => {
        const since = `(${less(along, moment)})`
        return `\\begin{cases}${sum(value, term(before, since))} & ${along} < ${moment}\\\\${sum(value, term(after, since))} & ${along} \\ge ${moment}\\end{cases}`
      },
      knowsBreaks: true,
      choices: (n) => n - 3,
      hasCorners: true,
      linear: [0, 1, 2],
      on,
      begin: (places, values) => {
        const n = places.length
        // Between two neighbours somewhere: with two points at least on either side.
        const [first, last] = [(places[0] + places[1]) / 2, (places[n - 2] + places[n - 1]) / 2]
        const between =
          n <= MOST_TRIED
            ? Array.from({ length: Math.max(0, n - 3) }, (_, i) => (places[i + 1] + places[i + 2]) / 2)
            : even(first, last, MOST_TRIED)
        return {
          starts: bestOf(
            on,
            [0, 1, 2],
            between.map((one) => [0, 0, 0, one]),
            places,
            values,
            FOLLOWED,
          ),
          lower: [...Array(3).fill(Number.NEGATIVE_INFINITY), places[Math.min(1, n - 1)]],
          upper: [...Array(3).fill(Number.POSITIVE_INFINITY), places[Math.max(0, n - 2)]],
        }
      },
      toShown: ([value, before, after, moment], zero) => [value, before, after, moment + zero],
      fromShown: ([value, before, after, moment], zero) => [value, before, after, moment - zero],
    }
  },
}
