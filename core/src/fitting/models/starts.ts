import { type Evaluate, residualSumOfSquares } from '../../regression/index.ts'
import { aperiodicPlace } from '../../time/index.ts'
import type { ShortStretch, Where } from './model.ts'

/** Points that a search for a start goes through at most: it only has to find the valley. */
const MOST_POINTS = 240

/**
 * Returns so many of more points, the first and the last among them, at uneven distances: evenly spaced ones could not tell a
 * quick swing from a slow one.
 */
export function scattered(
  places: ArrayLike<number>,
  values: ArrayLike<number>,
  most: number,
): { places: Float64Array; values: Float64Array } {
  const n = places.length
  const each = n / most
  const picked = Array.from({ length: Math.min(n, most) }, (_, i) =>
    n <= most ? i : i + 1 === most ? n - 1 : Math.floor((i + aperiodicPlace(i)) * each),
  )
  const pick = (all: ArrayLike<number>) => Float64Array.from(picked, (i) => all[i])
  return { places: pick(places), values: pick(values) }
}

/**
 * Starts for a law that is linear in some of its parameters: the others are tried on a grid, each time with what is
 * linear at its best, and those that leave least are given.
 *
 * @param tried sets of parameters, with anything in the place of what is linear
 * @param count of starts at most
 * @returns sets with 0 in the place of what is linear: the engine puts it to its best
 */
export function bestOf(
  on: (places: ArrayLike<number>) => Evaluate,
  linear: readonly number[],
  tried: readonly number[][],
  places: Float64Array,
  values: Float64Array,
  count: number,
): number[][] {
  const some = scattered(places, values, MOST_POINTS)
  const n = some.places.length
  const evaluate = on(some.places)
  const given = new Float64Array(n)
  return tried
    .map((parameters) => {
      const at = Float64Array.from(parameters, (one, k) => (linear.includes(k) ? 1 : one))
      const jacobian = parameters.map(() => new Float64Array(n))
      evaluate(at, given, jacobian)
      const rest = residualSumOfSquares(
        linear.map((k) => jacobian[k]),
        [some.values.slice()],
      )
      return { start: parameters.map((one, k) => (linear.includes(k) ? 0 : one)), rest }
    })
    .filter(({ rest }) => Number.isFinite(rest))
    .sort((a, b) => a.rest - b.rest)
    .slice(0, count)
    .map(({ start }) => start)
}

/** Numbers from one to another, each so many times the one before. */
export function geometric(from: number, to: number, count: number): number[] {
  return Array.from({ length: count }, (_, i) => from * (to / from) ** (i / (count - 1)))
}

/** Numbers from one to another in even steps. */
export function even(from: number, to: number, count: number): number[] {
  return Array.from({ length: count }, (_, i) => from + ((to - from) * i) / (count - 1))
}

/** Returns how far places go, and their ends. */
export function spanOf(places: Float64Array): { from: number; to: number; span: number } {
  const [from, to] = [places[0], places[places.length - 1]]
  return { from, to, span: to - from }
}

/** Time constants that a stretch should last, so that the limit is more than guessed. */
const FEWEST_CONSTANTS = 1.5

/** Returns how short a stretch is against a time constant; null where it is long enough. */
export function shortAgainst(time: number, { from, to }: Where): ShortStretch | null {
  const count = (to - from) / Math.abs(time)
  return count >= FEWEST_CONSTANTS ? null : { code: 'few-time-constants', count }
}

/** Middle of the ends that values go to, and how far they go on either side of it. */
export function middleOfEnds(values: Float64Array): { middle: number; reach: number } {
  const [least, most] = values.reduce(
    ([low, high], value) => [Math.min(low, value), Math.max(high, value)],
    [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY],
  )
  return { middle: (least + most) / 2, reach: (most - least) / 2 }
}
