import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../../random/index.ts'
import { FitError, residualSumOfSquares } from '../../regression/index.ts'
import { fitPoints } from '../solve.ts'
import { PLAIN } from './model.ts'
import { swingLaw } from './swingLaw.ts'

const fitSwing = (times: Float64Array, values: Float64Array, isDamped: boolean) =>
  fitPoints(swingLaw(PLAIN, isDamped), times, values)

const random = randomSource(2027)
const noise = normalSource(random)
const between = (low: number, high: number) => low + (high - low) * random()

/** Returns a swing with noise of a fifth of its amplitude, at uneven times. */
function randomSwing(isDamped: boolean, most: number) {
  const n = Math.round(12 * (most / 12) ** random())
  const span = between(0.5, 20)
  const step = span / (n - 1)
  const times = Float64Array.from(
    { length: n },
    (_, i) => i * step + (i > 0 && i < n - 1 ? between(-0.3, 0.3) * step : 0),
  )
  const cycles = Math.exp(between(Math.log(1.1), Math.log((n - 1) / 2.6)))
  const [omega, phase, size, offset] = [
    (2 * Math.PI * cycles) / span,
    between(0, 7),
    between(0.1, 5),
    between(-9, 9),
  ]
  const gamma = isDamped ? between(0, 2) / span : 0
  const values = times.map(
    (t) => offset + size * Math.exp(-gamma * t) * Math.sin(omega * t + phase) + 0.2 * size * noise(),
  )
  return { times, values, span, cycles, omega }
}

/** Returns the least rest that any frequency of a dense list leaves, with the best of some dampings. */
function denseRest({ times, values, span }: ReturnType<typeof randomSwing>, isDamped: boolean): number {
  const n = times.length
  let least = Number.POSITIVE_INFINITY
  const restAt = (cycles: number, lessening: number) => {
    const omega = (2 * Math.PI * cycles) / span
    const left = times.map((t) => Math.exp((-lessening * t) / span))
    const columns = [
      times.map(() => 1),
      left.map((l, i) => l * Math.sin(omega * times[i])),
      left.map((l, i) => l * Math.cos(omega * times[i])),
    ]
    return residualSumOfSquares(columns, [values.slice()])
  }
  let at = [0, 0]
  for (const lessening of isDamped ? [0, 0.5, 1, 1.5, 2, 3, 5] : [0])
    for (let cycles = 1; cycles <= (n - 1) / 2.5; cycles += 0.12) {
      const rest = restAt(cycles, lessening)
      if (rest < least) [least, at] = [rest, [cycles, lessening]]
    }
  // Closer and closer around the best.
  for (let reach = 0.06; reach > 1e-5; reach /= 2) {
    const [cycles, lessening] = at
    for (const dc of [-reach, 0, reach])
      for (const dl of isDamped ? [-8 * reach, 0, 8 * reach] : [0]) {
        if (cycles + dc < 1 || cycles + dc > (n - 1) / 2.5) continue
        const rest = restAt(cycles + dc, lessening + dl)
        if (rest < least) [least, at] = [rest, [cycles + dc, lessening + dl]]
      }
  }
  return least
}

describe.each([false, true])('A swing, damped: %s', (isDamped) => {
  it('is found from its own start as well as by a dense search', () => {
    const cases = 100
    let missed = 0
    for (let i = 0; i < cases; i++) {
      const made = randomSwing(isDamped, 200)
      try {
        const { rss } = fitSwing(made.times, made.values, isDamped)
        if (rss > denseRest(made, isDamped) * (1 + 1e-6)) missed++
      } catch (error) {
        expect((error as FitError).isUndetermined).toBe(true)
      }
    }
    expect(missed).toBeLessThanOrEqual(0.005 * cases)
  })

  it('has the frequency that it was made with, within its error', () => {
    const made = randomSwing(isDamped, 300)
    const { parameters, covariance } = fitSwing(made.times, made.values, isDamped)
    const error = Math.sqrt(covariance[3][3])
    expect(Math.abs(parameters[3] - made.omega)).toBeLessThan(4 * error)
  })

  it('is undetermined by less than a period, and by too few points', () => {
    const times = Float64Array.from({ length: 40 }, (_, i) => i / 40)
    expect(() =>
      fitSwing(
        times,
        times.map((t) => Math.sin(1.5 * t)),
        isDamped,
      ),
    ).toThrow(FitError)
    expect(() => fitSwing(times.slice(0, 4), times.slice(0, 4), isDamped)).toThrow(
      /too-few-points|too-few-for-swing/,
    )
    expect(() =>
      fitSwing(
        times.map(() => 1),
        times,
        isDamped,
      ),
    ).toThrow(/too-few-points/)
  })
})

describe('a swing over ten minutes', () => {
  // Cycles between which evenly picked points would take it for a slower one.
  it.each([352.9, 705.9, 2400])('has its frequency from 18,000 points (%d cycles)', (cycles) => {
    const random = randomSource(8)
    const times = Float64Array.from({ length: 18_000 }, (_, i) => (600 * i) / 17_999)
    const omega = (2 * Math.PI * cycles) / 600
    const values = times.map((t) => 3 + 2 * Math.sin(omega * t + 0.6) + 0.4 * (random() - 0.5))
    const { parameters } = fitPoints(swingLaw(PLAIN, false), times, values)
    // Three standard errors: σ_ω = √24·σ/(A·T·√N), Rife and Boorstyn, IEEE Trans. Inf. Theory 20 (1974) 591.
    const error = (Math.sqrt(24) * (0.4 / Math.sqrt(12))) / (2 * 600 * Math.sqrt(18_000))
    expect(Math.abs(parameters[3] - omega)).toBeLessThan(3 * error)
  })
})
