import { less, sum, term } from './formula.ts'
import type { LawReading, Model } from './model.ts'
import { mustBreak, pieceOn } from './pieces.ts'

/** Top of a flight: its place and its time. */
interface Top {
  place: number
  time: number
}

/** Returns a bounce between two flights with the same acceleration: where their parabolas meet. */
function bounce(acceleration: number, before: Top, after: Top): { time: number; ratio: number } {
  const coefficients = ({ place, time }: Top) => [
    place + (acceleration * time * time) / 2,
    -acceleration * time,
  ]
  const [a, b] = [coefficients(before), coefficients(after)]
  const time = -(b[0] - a[0]) / (b[1] - a[1])
  return { time, ratio: -(b[1] + acceleration * time) / (a[1] + acceleration * time) }
}

/** Flights under one acceleration, with a bounce at each break. */
export const bounces: Model = {
  id: 'bounces',
  name: 'Bounces',
  group: 'before-and-after',
  law: ({ order, letter, breaks, isAngle }) => {
    if (order !== 0 || isAngle) return null
    const flights = Array.from({ length: breaks.length + 1 }, (_, i) => i)
    const acceleration = { symbol: 'a', subscript: '', dimension: { value: 1, along: -2 } }
    const top = (shown: readonly number[], flight: number): Top => ({
      place: shown[1 + 2 * flight],
      time: shown[2 + 2 * flight],
    })
    const met = (shown: readonly number[], at: number) => bounce(shown[0], top(shown, at), top(shown, at + 1))
    const ratio = (key: string, name: string, of: LawReading['of']): LawReading => ({
      key,
      name,
      symbol: 'e',
      subscript: '',
      dimension: {},
      of,
    })
    const count = breaks.length
    return {
      parameters: [
        { ...acceleration, name: 'acceleration' },
        ...flights.flatMap((_, i) => [
          {
            symbol: letter,
            subscript: String(i + 1),
            name: `top of flight ${i + 1}`,
            dimension: { value: 1 },
          },
          { symbol: 't', subscript: String(i + 1), name: `time of that top`, dimension: { along: 1 } },
        ]),
      ],
      readings: [
        ratio(
          'restitution',
          count > 1 ? 'Coefficient of restitution, mean' : 'Coefficient of restitution',
          (shown) => flights.slice(1).reduce((mean, i) => mean + met(shown, i - 1).ratio / count, 0),
        ),
        ...(count > 1
          ? flights
              .slice(1)
              .map((i) => ratio(`restitution-${i}`, `At bounce ${i}`, (shown) => met(shown, i - 1).ratio))
          : []),
        { ...acceleration, key: 'acceleration', name: 'Acceleration', of: ([a]) => a },
        ...flights.slice(1).map(
          (i): LawReading => ({
            key: `bounce-${i}`,
            name: `Bounce ${i} at`,
            symbol: 't',
            subscript: `b${i}`,
            dimension: { along: 1 },
            of: (shown) => met(shown, i - 1).time,
          }),
        ),
      ],
      formula: ([a, ...tops], along) =>
        `\\begin{cases}${flights
          .map((_, i) => sum(tops[2 * i], term(a, `(${less(along, tops[2 * i + 1])})^{2}`, '\\tfrac{1}{2}')))
          .join('\\\\')}\\end{cases}`,
      knowsBreaks: true,
      linear: Array.from({ length: 1 + 2 * flights.length }, (_, k) => k),
      zero: 0,
      on: pieceOn(breaks, 2, 1),
      begin: () => {
        mustBreak(breaks)
        return { starts: [Array(1 + 2 * flights.length).fill(0)] }
      },
      toShown: ([square, ...own]) => [
        2 * square,
        ...flights.flatMap((i) => [
          own[2 * i] - own[2 * i + 1] ** 2 / (4 * square),
          -own[2 * i + 1] / (2 * square),
        ]),
      ],
      fromShown: ([a, ...tops]) => [
        a / 2,
        ...flights.flatMap((i) => [tops[2 * i] + (a * tops[2 * i + 1] ** 2) / 2, -a * tops[2 * i + 1]]),
      ],
    }
  },
}
