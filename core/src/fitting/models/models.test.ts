import { describe, expect, it } from 'vitest'
import type { ModelId } from '../../investigation/index.ts'
import { normalSource, randomSource } from '../../random/index.ts'
import { FitError } from '../../regression/index.ts'
import { fitPoints } from '../solve.ts'
import { MODELS, PLAIN, type Setting } from './index.ts'

const setting = (order: Setting['order'], more: Partial<Setting> = {}): Setting => ({
  ...PLAIN,
  order,
  letter: 'x',
  ...more,
})

interface Case {
  id: ModelId
  order: Setting['order']
  /** As people know them. */
  truth: number[]
  /** What the column is, worked out apart from the law. */
  of: (t: number) => number
  from?: number
  to?: number
  more?: Partial<Setting>
}

/** Times of release before which nothing has happened. */
const since = (t: number, t0: number) => Math.max(0, t - t0)

const CASES: Case[] = [
  { id: 'rest', order: 0, truth: [1.3], of: () => 1.3 },
  { id: 'uniform', order: 0, truth: [0.4, -1.2], of: (t) => 0.4 - 1.2 * t },
  { id: 'uniform', order: 1, truth: [-1.2], of: () => -1.2 },
  { id: 'uniform', order: null, truth: [0.4, -1.2], of: (t) => 0.4 - 1.2 * t },
  { id: 'proportional', order: 1, truth: [-9.81], of: (t) => -9.81 * t },
  { id: 'uniform-acceleration', order: 0, truth: [0.2, 4, -9.81], of: (t) => 0.2 + 4 * t - 4.905 * t * t },
  { id: 'uniform-acceleration', order: 1, truth: [4, -9.81], of: (t) => 4 - 9.81 * t },
  { id: 'uniform-acceleration', order: 2, truth: [-9.81], of: () => -9.81 },
  {
    id: 'changing-acceleration',
    order: 0,
    truth: [0.2, 4, -9, 6],
    of: (t) => 0.2 + 4 * t - 4.5 * t * t + t ** 3,
  },
  { id: 'changing-acceleration', order: 1, truth: [4, -9, 6], of: (t) => 4 - 9 * t + 3 * t * t },
  { id: 'exponential', order: 1, truth: [2, 0.7], of: (t) => 2 * Math.exp(-t / 0.7) },
  { id: 'exponential', order: null, truth: [0.3, -0.9], of: (t) => 0.3 * Math.exp(t / 0.9) },
  { id: 'settling', order: 0, truth: [1.8, 0.2, 0.6], of: (t) => 1.8 - 1.6 * Math.exp(-t / 0.6) },
  {
    id: 'terminal-speed',
    order: 0,
    truth: [0.1, -0.8, 0.5, 0.4],
    of: (t) => 0.1 - 0.8 * t + 1.3 * 0.4 * (1 - Math.exp(-t / 0.4)),
  },
  {
    id: 'terminal-speed',
    order: 1,
    truth: [-0.8, 0.5, 0.4],
    of: (t) => -0.8 + 1.3 * Math.exp(-t / 0.4),
  },
  {
    id: 'terminal-from-rest',
    order: 0,
    truth: [0.9, -0.25, 0.3, 0.42],
    of: (t) => 0.9 - 0.25 * (since(t, 0.42) - 0.3 * (1 - Math.exp(-since(t, 0.42) / 0.3))),
  },
  {
    id: 'terminal-from-rest',
    order: 1,
    truth: [-0.25, 0.3, 0.42],
    of: (t) => -0.25 * (1 - Math.exp(-since(t, 0.42) / 0.3)),
  },
  {
    id: 'quadratic-drag',
    order: 0,
    truth: [2, -3.1, 0.32, -0.05],
    of: (t) => 2 - 3.1 * 0.32 * Math.log(Math.cosh(since(t, -0.05) / 0.32)),
  },
  {
    id: 'quadratic-drag',
    order: 1,
    truth: [-3.1, 0.32, 0.11],
    of: (t) => -3.1 * Math.tanh(since(t, 0.11) / 0.32),
  },
  { id: 'logistic', order: null, truth: [4, 0.2, 0.9], of: (t) => 4 / (1 + Math.exp(-(t - 0.9) / 0.2)) },
  {
    id: 'swing',
    order: 0,
    truth: [0.3, 0.2, 7.3, 1.1],
    of: (t) => 0.3 + 0.2 * Math.sin(7.3 * t + 1.1),
  },
  {
    id: 'damped-swing',
    order: 1,
    truth: [0.02, 0.8, 9, -2, 1.5],
    of: (t) => 0.02 + 0.8 * Math.exp(-t / 1.5) * Math.sin(9 * t - 2),
  },
  {
    id: 'kink',
    order: 0,
    truth: [0.7, 1.4, -0.5, 0.93],
    of: (t) => 0.7 + (t < 0.93 ? 1.4 : -0.5) * (t - 0.93),
  },
  {
    id: 'pieces',
    order: 0,
    truth: [0.1, 1, 1.2, -0.5],
    of: (t) => (t < 1 ? 0.1 + t : 1.2 - 0.5 * t),
    more: { breaks: [1] },
  },
  { id: 'pieces', order: 1, truth: [1, -0.5], of: (t) => (t < 1 ? 1 : -0.5), more: { breaks: [1] } },
  {
    id: 'bounces',
    order: 0,
    truth: [-9.81, 1.2, 0.1, 0.6, 1.05],
    of: (t) => (t < 0.72 ? 1.2 - 4.905 * (t - 0.1) ** 2 : 0.6 - 4.905 * (t - 1.05) ** 2),
    more: { breaks: [0.72] },
  },
  { id: 'power', order: null, truth: [1.4, 1.5], of: (t) => 1.4 * t ** 1.5, from: 0.1 },
  { id: 'square-root', order: null, truth: [4.4], of: (t) => 4.4 * Math.sqrt(t), from: 0.1 },
  { id: 'reciprocal', order: null, truth: [0.7], of: (t) => 0.7 / t, from: 0.1 },
  {
    id: 'gaussian',
    order: null,
    truth: [0.1, 3, 1.1, 0.2],
    of: (t) => 0.1 + 3 * Math.exp(-((t - 1.1) ** 2) / 0.08),
  },
  {
    id: 'free-form',
    order: null,
    truth: [2.5, 0.4],
    of: (t) => 2.5 * Math.exp(-t / 0.4),
    more: { expression: 'a*exp(-t/tau)' },
  },
]

const timesOf = ({ from = 0, to = 2 }: Case, count = 61) =>
  Float64Array.from({ length: count }, (_, i) => from + ((to - from) * i) / (count - 1))

/** Null where it is said to be undetermined. */
function tried<T>(act: () => T): T | null {
  try {
    return act()
  } catch (error) {
    if (error instanceof FitError && error.isUndetermined) return null
    throw error
  }
}

describe.each(CASES)('$id of a column of order $order', (one) => {
  const { id, order, truth, of, more } = one
  const law = MODELS[id].law(setting(order, more))!

  it('is found from exact points, from its own start, in the parameters that it was made with', () => {
    const times = timesOf(one)
    const { parameters, members } = fitPoints(law, times, times.map(of))
    members[0].shownParameters(parameters).forEach((value, k) => {
      expect(Math.abs(value - truth[k])).toBeLessThan(1e-7 * Math.max(1, Math.abs(truth[k])))
    })
  })

  it('goes back and forth between its own parameters and those that people know', () => {
    const zero = law.zero ?? 0.8
    law.toShown(law.fromShown(truth, zero), zero).forEach((value, k) => {
      expect(value).toBeCloseTo(truth[k], 9)
    })
  })

  it('has the slopes that differences have', () => {
    const zero = law.zero ?? 0.8
    // Beside the places at which a law has a corner.
    const times = timesOf(one, 37).map((t) => t - zero + 1e-4)
    const own = Float64Array.from(law.fromShown(truth, zero))
    const evaluate = law.on(times)
    const jacobian = Array.from(own, () => new Float64Array(times.length))
    evaluate(own, new Float64Array(times.length), jacobian)
    own.forEach((value, k) => {
      const step = 1e-6 * Math.max(1, Math.abs(value))
      const [up, down] = [step, -step].map((by) => {
        const values = new Float64Array(times.length)
        evaluate(
          own.map((all, j) => (j === k ? all + by : all)),
          values,
          null,
        )
        return values
      })
      const scale = Math.max(1, ...jacobian[k].map(Math.abs))
      jacobian[k].forEach((slope, i) => {
        expect(Math.abs(slope - (up[i] - down[i]) / (2 * step))).toBeLessThan(1e-5 * scale)
      })
    })
  })

  it('writes its formula with as many parameters as it has, and with numbers below zero in place', () => {
    const symbols = law.parameters.map((_, k) => `p_{${k}}`)
    const formula = law.formula(symbols, 't')
    if (id !== 'free-form') for (const symbol of symbols) expect(formula).toContain(symbol)
    const numbers = law.formula(
      truth.map((value) => String(value)),
      't',
    )
    expect(numbers).not.toMatch(/[+-] *-|\( *\+/)
    // Two numbers beside each other look like one, and nothing is divided by a dot.
    expect(numbers).not.toMatch(/\d\\,[\d.]|\/\\cdot/)
  })

  it('is found with 2 % noise within two of its errors, mostly', () => {
    const normal = normalSource(randomSource(11))
    const times = timesOf(one)
    const exact = times.map(of)
    const size = Math.max(...exact.map(Math.abs)) * 0.02
    let [within, all, undetermined] = [0, 0, 0]
    for (let repeat = 0; repeat < 40; repeat++) {
      const noisy = exact.map((value) => value + size * normal())
      const solution = tried(() => fitPoints(law, times, noisy))
      if (!solution) {
        undetermined++
        continue
      }
      const { parameters, covariance, members } = solution
      const own = law.fromShown(truth, members[0].zero)
      parameters.forEach((value, k) => {
        const off = Math.abs(value - own[k]) / Math.sqrt(covariance[k][k])
        all++
        if (off < 2) within++
        expect(off).toBeLessThan(10)
      })
    }
    expect(within / all).toBeGreaterThan(0.85)
    expect(undetermined).toBeLessThanOrEqual(2)
  })
})

describe('a setting', () => {
  it.each<[ModelId, Setting['order']]>([
    ['rest', 1],
    ['settling', 1],
    ['terminal-speed', null],
    ['bounces', 1],
    ['kink', 2],
  ])('of which a model says nothing has no law: %s of order %s', (id, order) => {
    expect(MODELS[id].law(setting(order))).toBeNull()
  })

  it('without a break has no pieces', () => {
    const law = MODELS.pieces.law(setting(0))!
    const times = timesOf(CASES[0])
    expect(() => fitPoints(law, times, times)).toThrow(/no-break/)
  })

  it('at zero has no power', () => {
    const law = MODELS.power.law(setting(null))!
    expect(() => fitPoints(law, Float64Array.of(0, 1, 2), Float64Array.of(0, 1, 2))).toThrow(/not-positive/)
  })
})
