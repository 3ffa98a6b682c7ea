import { describe, expect, it } from 'vitest'
import { type Estimate, halfWidth } from '../fitting/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { REPEATS, SHARE_MARGIN } from '../testing/extent.ts'
import { seriesMean } from './index.ts'
import type { SharedEffect, TrialValue } from './trialValue.ts'

const alone = (value: number, own: number): TrialValue => ({ value, own, shared: new Map() })

/** An effect of a stated error of the scale, which is proportional to the value. */
const scaled = (by: number): SharedEffect => ({ source: 'length', by, freedom: Number.POSITIVE_INFINITY })

describe('a mean of trials', () => {
  it('has the variance between trials that is published for 13 trials of a vaccine', () => {
    // Log relative risks and their variances from Colditz et al., JAMA 271 (1994) 698; Q and τ² as in textbooks of meta-analysis.
    const logs = [
      -0.8893, -1.5854, -1.3481, -1.4416, -0.2175, -0.7861, -1.6209, 0.012, -0.4694, -1.3713, -0.3394, 0.4459,
      -0.0173,
    ]
    const variances = [
      0.3256, 0.1946, 0.4154, 0.02, 0.0512, 0.0069, 0.223, 0.004, 0.0564, 0.073, 0.0124, 0.5325, 0.0714,
    ]
    const { between, agreement, weighted } = seriesMean(
      logs.map((value, i) => alone(value, Math.sqrt(variances[i]))),
      '',
    )
    expect(Math.abs(agreement!.chiSquare - 152.23)).toBeLessThan(0.6)
    expect(Math.abs(between ** 2 - 0.318)).toBeLessThan(0.001)
    expect(Math.abs(weighted.value + 0.715)).toBeLessThan(0.001)
  })

  it('of equal errors is the plain mean, with its scatter over √n', () => {
    const values = [9.7, 9.9, 9.8, 10, 9.6]
    const { mean, weighted, deviation, count } = seriesMean(
      values.map((value) => alone(value, 0.05)),
      'm/s²',
    )
    const s = Math.sqrt(0.1 / 4)
    expect(count).toBe(5)
    expect(deviation).toBeCloseTo(s, 12)
    for (const one of [mean, weighted]) {
      expect(one.value).toBeCloseTo(9.8, 12)
      expect(one.error).toBeCloseTo(s / Math.sqrt(5), 7)
      expect(one.parts).toEqual([{ source: 'scatter', error: one.error, freedom: 4 }])
      // Student's t with 4 degrees of freedom.
      expect(halfWidth(one)).toBeCloseTo(2.7764 * one.error, 4)
    }
  })

  it('does not average away what all trials share, and adds what only some share with its weight', () => {
    const shared = new Map([
      ['view 1', scaled(0.1)],
      ['clock', { source: 'timing' as const, by: 0.02, freedom: 9 }],
    ])
    const values = Array.from({ length: 4 }, () => ({ ...alone(9.8, 0.01), shared }))
    values[3] = { ...values[3], shared: new Map([['view 2', scaled(0.1)]]) }
    const { mean } = seriesMean(values, 'm/s²')
    const partOf = (source: string) => mean.parts.find((part) => part.source === source)!
    expect(partOf('length').error).toBeCloseTo(Math.hypot(0.075, 0.025), 12)
    expect(partOf('timing')).toEqual({ source: 'timing', error: expect.closeTo(0.015, 12), freedom: 9 })
  })

  it('of one trial is that trial', () => {
    const { mean, weighted, deviation, agreement } = seriesMean(
      [{ ...alone(9.7, 0.2), shared: new Map([['view', scaled(0.1)]]) }],
      'm/s²',
    )
    for (const one of [mean, weighted]) {
      expect(one.value).toBe(9.7)
      expect(one.error).toBeCloseTo(Math.hypot(0.2, 0.1), 12)
    }
    expect(deviation).toBeNaN()
    expect(agreement).toBeNull()
  })

  it('of exact values has their scatter, and does not judge it', () => {
    const { mean, weighted, agreement } = seriesMean([alone(1, 0), alone(2, 0.1), alone(3, 0)], 's')
    expect(mean.error).toBeCloseTo(1 / Math.sqrt(3), 12)
    expect(weighted).toEqual(mean)
    expect(agreement).toBeNull()
  })

  it('tells how much more its trials scatter than their own errors promise', () => {
    const normal = normalSource(randomSource(5))
    const ratios = Array.from({ length: 200 }, () => {
      const values = Array.from({ length: 10 }, () => alone(9.8 + 0.3 * normal(), 0.1))
      return seriesMean(values, 'm/s²').agreement!
    })
    const meanSquare = ratios.reduce((sum, { birgeRatio }) => sum + birgeRatio ** 2, 0) / 200
    // √(2/(9·200)) of the mean of 200 χ² over 9 degrees of freedom each, four times.
    expect(Math.abs(meanSquare / 9 - 1)).toBeLessThan(4 * Math.sqrt(2 / 1800))
    expect(ratios.filter(({ probability }) => probability < 0.001).length).toBeGreaterThan(190)
  })
})

interface Case {
  name: string
  /** Standard errors of the trials' own. */
  own: number[]
  /** Relative error of the scale that all share, and standard deviation between trials. */
  scale?: number
  between?: number
}

const G = 9.81
const CASES: Case[] = [
  { name: 'own errors only', own: [0.1, 0.1, 0.1, 0.1, 0.1] },
  { name: 'own errors that differ', own: [0.07, 0.08, 0.1, 0.12, 0.14, 0.14] },
  { name: 'a scale that all share', own: [0.05, 0.08, 0.1, 0.12, 0.2], scale: 0.01 },
  { name: 'scatter between trials', own: [0.05, 0.1, 0.1, 0.2, 0.1, 0.07, 0.1, 0.1], between: 0.2 },
  { name: 'three trials, with a scale that they share', own: [0.1, 0.1, 0.1], scale: 0.005 },
]

describe.each(CASES)('the 95 % interval of a mean: $name', ({ own, scale = 0, between = 0 }) => {
  it('covers the truth in 93 to 97 % of 2,000 series', () => {
    const normal = normalSource(randomSource(own.length + 100 * scale))
    const covered = { mean: 0, weighted: 0 }
    const holds = (estimated: Estimate) => Math.abs(estimated.value - G) <= halfWidth(estimated)
    for (let repeat = 0; repeat < REPEATS; repeat++) {
      const off = scale * normal()
      const values = own.map((error): TrialValue => {
        const value = (G + between * normal()) * (1 + off) + error * normal()
        return { value, own: error, shared: new Map(scale > 0 ? [['view', scaled(scale * value)]] : []) }
      })
      const found = seriesMean(values, 'm/s²')
      if (holds(found.mean)) covered.mean++
      if (holds(found.weighted)) covered.weighted++
    }
    for (const share of [covered.mean, covered.weighted].map((count) => count / REPEATS)) {
      expect(share).toBeGreaterThanOrEqual(0.93 - SHARE_MARGIN)
      expect(share).toBeLessThanOrEqual(0.97 + SHARE_MARGIN)
    }
  })
})
