import { describe, expect, it } from 'vitest'
import { type Estimate, halfWidth } from '../fitting/index.ts'
import { dimension, type QuantityInfo } from '../motion/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { REPEATS, SHARE_MARGIN } from '../testing/extent.ts'
import { fitTrials, type TrialColumn } from './fitTrials.ts'
import type { TrialValue } from './trialValue.ts'

const column = (symbol: string, unit: string, values: TrialValue[]): TrialColumn => {
  const info: QuantityInfo = {
    id: symbol,
    symbol,
    subscript: '',
    name: symbol,
    dimension: dimension({}),
    direction: 'size',
    needs: [],
  }
  return {
    quantity: { info, dimension: info.dimension, unit },
    values,
    errors: values.map((_, i) => 2 * i + (symbol === 'x' ? 0 : 1)),
  }
}
const alone = (value: number, own: number): TrialValue => ({ value, own, shared: new Map() })

describe('a straight line through trials', () => {
  it('with errors in both is the one that is published for Pearson’s data with York’s weights', () => {
    // York, Can. J. Phys. 44 (1966) 1079; slope and intercept as in Reed, Am. J. Phys. 57 (1989) 642. With twice the errors, which
    // change neither, the scatter is no larger than they promise.
    const x = [0, 0.9, 1.8, 2.6, 3.3, 4.4, 5.2, 6.1, 6.5, 7.4]
    const y = [5.9, 5.4, 4.4, 4.6, 3.5, 3.7, 2.8, 2.8, 2.4, 1.5]
    const weightsX = [1000, 1000, 500, 800, 200, 80, 60, 20, 1.8, 1]
    const weightsY = [1, 1.8, 4, 8, 20, 20, 70, 70, 100, 500]
    const values = (of: number[], weights: number[]) =>
      of.map((value, i) => alone(value, 2 / Math.sqrt(weights[i])))
    const { fit, between } = fitTrials(
      column('x', '', values(x, weightsX)),
      column('y', '', values(y, weightsY)),
      { model: 'uniform' },
    )
    const [intercept, slope] = fit.parameters
    expect(Math.abs(slope.value + 0.480533)).toBeLessThan(2e-6)
    expect(Math.abs(intercept.value - 5.47991)).toBeLessThan(2e-5)
    expect(between).toBe(0)
  })

  it('goes through exact points, and through points of which no errors are known', () => {
    const x = column(
      'x',
      '',
      [1, 2, 3, 4].map((value) => alone(value, 0)),
    )
    const exact = column(
      'y',
      '',
      [3, 5, 7, 9].map((value) => alone(value, 0.1)),
    )
    const { fit, between } = fitTrials(x, exact, { model: 'uniform' })
    expect(fit.parameters.map(({ value }) => value)).toEqual([expect.closeTo(1, 9), expect.closeTo(2, 9)])
    expect(between).toBe(0)
    const unknown = column(
      'y',
      '',
      [3.1, 4.9, 7.1, 8.9].map((value) => alone(value, 0)),
    )
    const line = fitTrials(x, unknown, { model: 'uniform' }).fit
    // Least squares: slope 1.96, residuals 0.04 − 0.12 + 0.12 − 0.04, variance of the slope s²/5.
    expect(line.parameters[1].value).toBeCloseTo(1.96, 9)
    expect(line.parameters[1].error).toBeCloseTo(Math.sqrt((2 * (0.04 ** 2 + 0.12 ** 2)) / 2 / 5), 6)
    expect(line.solution.reducedChiSquare).toBeNull()
  })

  it('has a part of each shared error: of a scale the whole slope’s share', () => {
    const angles = [0.1, 0.15, 0.2, 0.25, 0.3]
    const x = column(
      'x',
      '',
      angles.map((angle) => alone(Math.sin(angle), 0)),
    )
    const y = column(
      'a',
      'm/s²',
      angles.map((angle) => ({
        ...alone(9.81 * Math.sin(angle), 0.001),
        shared: new Map([
          [
            'view',
            {
              source: 'length' as const,
              by: 0.01 * 9.81 * Math.sin(angle),
              freedom: Number.POSITIVE_INFINITY,
            },
          ],
        ]),
      })),
    )
    const slope = fitTrials(x, y, { model: 'uniform' }).fit.parameters[1]
    expect(slope.parts.find(({ source }) => source === 'length')!.error).toBeCloseTo(0.0981, 6)
    expect(slope.parts[0].source).toBe('scatter')
  })
})

interface Case {
  name: string
  trials: number
  own: { x: number; y: number }
  scale?: number
  between?: number
}

const CASES: Case[] = [
  { name: 'own errors of one quantity', trials: 6, own: { x: 0, y: 0.05 } },
  { name: 'own errors in both', trials: 8, own: { x: 0.004, y: 0.04 } },
  { name: 'a scale that all share', trials: 5, own: { x: 0, y: 0.03 }, scale: 0.02 },
  { name: 'scatter between trials', trials: 8, own: { x: 0, y: 0.03 }, between: 0.1 },
  { name: 'all of them', trials: 8, own: { x: 0.004, y: 0.03 }, scale: 0.01, between: 0.04 },
]

describe.each(CASES)('the 95 % intervals of slope and intercept: $name', ({ trials, own, ...shared }) => {
  it('cover the truth in 93 to 97 % of 2,000 series', () => {
    const { scale = 0, between = 0 } = shared
    const normal = normalSource(randomSource(trials + 1000 * own.x + 100 * scale))
    const [g, friction] = [9.81, 0.4]
    const truth = [-friction, g]
    const covered = [0, 0]
    for (let repeat = 0; repeat < REPEATS; repeat++) {
      const off = scale * normal()
      const sines = Array.from({ length: trials }, (_, i) => 0.1 + (0.3 * i) / (trials - 1))
      const x = sines.map((sine) => alone(sine + own.x * normal(), own.x))
      const y = sines.map((sine, i): TrialValue => {
        // Own errors differ from trial to trial by a factor of two.
        const error = own.y * (1 + (i % 3) / 2)
        const value = (g * sine - friction + between * normal()) * (1 + off) + error * normal()
        return {
          value,
          own: error,
          shared: new Map(
            scale > 0
              ? [
                  [
                    'view',
                    { source: 'length' as const, by: scale * value, freedom: Number.POSITIVE_INFINITY },
                  ],
                ]
              : [],
          ),
        }
      })
      const { fit } = fitTrials(column('x', '', x), column('a', 'm/s²', y), { model: 'uniform' })
      fit.parameters.forEach((parameter: Estimate, k) => {
        if (Math.abs(parameter.value - truth[k]) <= halfWidth(parameter)) covered[k]++
      })
    }
    for (const count of covered) {
      expect(count / REPEATS).toBeGreaterThanOrEqual(0.93 - SHARE_MARGIN)
      expect(count / REPEATS).toBeLessThanOrEqual(0.97 + SHARE_MARGIN)
    }
  })
})
