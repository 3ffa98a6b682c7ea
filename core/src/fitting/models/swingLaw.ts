import { sum, term, whole } from './formula.ts'
import { type Law, type LawParameter, type LawReading, letterOf, type Setting } from './model.ts'
import { beginSwing, checkSwing, swingOn } from './swinging.ts'

/** Periods that a stretch should last, so that middle and frequency are told apart well. */
const FEWEST_PERIODS = 1.5

const OMEGA = { symbol: 'ω', subscript: '', dimension: { along: -1, angle: 1 } }
const TAU = { symbol: 'τ', subscript: '', dimension: { along: 1 } }

/** Returns the law of a swing about a middle, damped or not; of any column. */
export function swingLaw(setting: Setting, isDamped: boolean): Law {
  const amplitude = { symbol: 'A', subscript: isDamped ? '0' : '', dimension: { value: 1 } }
  const parameters: LawParameter[] = [
    {
      symbol: letterOf(setting),
      subscript: 'm',
      name: 'middle that it swings about',
      dimension: { value: 1 },
    },
    { ...amplitude, name: isDamped ? 'amplitude at t = 0' : 'amplitude' },
    { ...OMEGA, name: 'angular frequency' },
    { symbol: 'φ', subscript: '', name: 'phase at t = 0', dimension: { angle: 1 }, turns: true },
    ...(isDamped ? [{ ...TAU, name: 'time in which the amplitude falls to 1/e' }] : []),
  ]
  return {
    parameters,
    readings: swingReadings(isDamped),
    formula: ([centre, size, rate, phase, time], along) =>
      sum(
        centre,
        `${term(size)}${isDamped ? `\\,e^{-${along}/${whole(time)}}` : ''}\\,\\sin(${sum(term(rate, along), phase)})`,
      ),
    // So many frequencies can be told apart.
    choices: (n) => n / 2.5,
    linear: [0, 1, 2],
    on: swingOn(isDamped),
    begin: (places, values) => beginSwing(places, values, isDamped),
    doubt: ([, , rate], { from, to }) => {
      const periods = ((to - from) * rate) / (2 * Math.PI)
      return periods >= FEWEST_PERIODS ? null : { code: 'few-periods', periods }
    },
    check: (own, places) => checkSwing(own[3], places),
    toShown: ([centre, sine, cosine, rate, loss = 0], zero) => {
      const phase = Math.atan2(cosine, sine) - rate * zero
      return [
        centre,
        Math.hypot(sine, cosine) * Math.exp(loss * zero),
        rate,
        phase - 2 * Math.PI * Math.round(phase / (2 * Math.PI)),
        ...(isDamped ? [1 / loss] : []),
      ]
    },
    fromShown: ([centre, size, rate, phase, time], zero) => {
      const here = isDamped ? size * Math.exp(-zero / time) : size
      const at = phase + rate * zero
      return [centre, here * Math.cos(at), here * Math.sin(at), rate, ...(isDamped ? [1 / time] : [])]
    },
  }
}

function swingReadings(isDamped: boolean): LawReading[] {
  return [
    { ...OMEGA, key: 'omega', name: 'Angular frequency', of: ([, , rate]) => rate },
    {
      key: 'frequency',
      name: 'Frequency',
      symbol: 'f',
      subscript: '',
      dimension: { along: -1 },
      isFrequency: true,
      of: ([, , rate]) => rate / (2 * Math.PI),
    },
    {
      key: 'period',
      name: 'Period',
      symbol: 'T',
      subscript: '',
      dimension: { along: 1 },
      of: ([, , rate]) => (2 * Math.PI) / rate,
    },
    {
      key: 'amplitude',
      name: isDamped ? 'Amplitude at the start' : 'Amplitude',
      symbol: 'A',
      subscript: '',
      dimension: { value: 1 },
      of: ([, size, , , time], { from }) => (isDamped ? size * Math.exp(-from / time) : size),
    },
    ...(isDamped
      ? [
          { ...TAU, key: 'decay', name: 'Decay time', of: (shown: readonly number[]) => shown[4] },
          {
            key: 'quality',
            name: 'Quality factor',
            symbol: 'Q',
            subscript: '',
            dimension: {},
            of: (shown: readonly number[]) => (shown[2] * shown[4]) / 2,
          },
        ]
      : []),
  ]
}
