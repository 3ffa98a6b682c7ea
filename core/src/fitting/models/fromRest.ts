import type { Evaluate } from '../../regression/index.ts'
import { sum, times, whole } from './formula.ts'
import type { Law, LawReading, Setting } from './model.ts'
import { bestOf, even, geometric, shortAgainst, spanOf } from './starts.ts'

/** A velocity that sets out from rest, as a share of its terminal one, over times in time constants since the release. */
export interface FromRest {
  /** Way gone, in terminal velocities times time constants; velocity; acceleration. */
  way(u: number): number
  speed(u: number): number
  gain(u: number): number
  /** TeX of way and speed, by the share of time and what stands for t − t₀. */
  wayTex(u: string, since: string, time: string): string
  speedTex(u: string): string
}

/** Returns the law of a body that is let go at t₀, and rests before: x₀, v∞, τ and t₀ of a position, without x₀ of a velocity. */
export function fromRestLaw({ order, letter, isAngle }: Setting, shape: FromRest): Law | null {
  if (order === null || order === 2) return null
  const isPlace = order === 0
  const first = isPlace ? 1 : 0
  const v = isAngle ? 'ω' : 'v'
  const limit = {
    symbol: v,
    subscript: '∞',
    dimension: isPlace ? { value: 1, along: -1 } : { value: 1 },
  }
  const tau = { symbol: 'τ', subscript: '', dimension: { along: 1 } }
  const release = { symbol: 't', subscript: '0', dimension: { along: 1 } }
  const place = { symbol: letter, subscript: '0', name: 'position before', dimension: { value: 1 } }
  const on =
    (places: ArrayLike<number>): Evaluate =>
    (own, values, jacobian) => {
      const [limitOf, time, at] = [own[first], own[first + 1], own[first + 2]]
      for (let i = 0; i < places.length; i++) {
        const u = Math.max(0, (places[i] - at) / time)
        const share = isPlace ? time * shape.way(u) : shape.speed(u)
        values[i] = (isPlace ? own[0] : 0) + limitOf * share
        if (!jacobian) continue
        if (isPlace) jacobian[0][i] = 1
        jacobian[first][i] = share
        // What is lost by a longer time constant, and by a later release.
        const rate = isPlace ? shape.speed(u) : shape.gain(u) / time
        jacobian[first + 1][i] = limitOf * (isPlace ? shape.way(u) - u * rate : -u * rate)
        jacobian[first + 2][i] = u > 0 ? -limitOf * rate : 0
      }
    }
  const linear = isPlace ? [0, 1] : [0]
  const readings: LawReading[] = [
    { ...limit, key: 'terminal', name: 'Terminal velocity', of: (shown) => shown[first] },
    { ...tau, key: 'time-constant', name: 'Time constant', of: (shown) => shown[first + 1] },
    { ...release, key: 'release', name: 'Let go at', of: (shown) => shown[first + 2] },
  ]
  return {
    parameters: [
      ...(isPlace ? [place] : []),
      { ...limit, name: 'terminal velocity' },
      { ...tau, name: 'time constant' },
      { ...release, name: 'moment in which it is let go' },
    ],
    readings,
    formula: (given, along) => {
      const [last, time, at] = given.slice(-3)
      const since = at.startsWith('-') ? `(${along} + ${at.slice(1)})` : `(${along} - ${at})`
      const u = `${since}/${whole(time)}`
      return isPlace
        ? sum(given[0], times(last, shape.wayTex(u, since, time)))
        : `${last}\\,${shape.speedTex(u)}`
    },
    linear,
    choices: (n) => n / 2,
    hasCorners: true,
    on,
    begin: (places, values) => {
      const { from, span } = spanOf(places)
      const tried = geometric(0.01, 2, 10).flatMap((time) =>
        even(-0.6, 0.7, 21).map((at) => [...linear.map(() => 0), time * span, from + at * span]),
      )
      const open = linear.map(() => Number.NEGATIVE_INFINITY)
      return {
        starts: bestOf(on, linear, tried, places, values, 3),
        lower: [...open, 1e-6 * span, from - 20 * span],
        upper: [...open.map(() => Number.POSITIVE_INFINITY), 1e4 * span, from + span],
      }
    },
    doubt: (shown, where) => shortAgainst(shown[first + 1], where),
    toShown: (own, zero) => Array.from(own, (one, k) => (k === first + 2 ? one + zero : one)),
    fromShown: (shown, zero) => shown.map((one, k) => (k === first + 2 ? one - zero : one)),
  }
}
