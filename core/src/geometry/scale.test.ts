import { describe, expect, it } from 'vitest'
import { estimate, halfWidth } from '../fitting/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { REPEATS, SHARE_MARGIN } from '../testing/extent.ts'
import {
  combineScales,
  depthFactor,
  type ReferenceLength,
  referenceAngle,
  relativeScaleError,
  type Scale,
  scaleOf,
} from './index.ts'

const staff: ReferenceLength = {
  ends: [
    { x: 760, y: 475 },
    { x: 760, y: 160 },
  ],
  length: 1.4,
  lengthError: 0,
  depth: null,
}

describe('the scale of one reference length', () => {
  it('is length over distance, with both errors', () => {
    const scale = scaleOf({ ...staff, lengthError: 0.007 })!
    expect(scale.metresPerPixel).toBeCloseTo(1.4 / 315, 12)
    expect(relativeScaleError(scale)).toBeCloseTo(Math.hypot(Math.SQRT1_2 / 315, 0.005), 12)
  })

  it('is missing without a length or with both ends on one spot', () => {
    expect(scaleOf({ ...staff, length: null })).toBeNull()
    expect(scaleOf({ ...staff, ends: [staff.ends[0], staff.ends[0]] })).toBeNull()
  })

  it('that is nearer than the motion is made larger in proportion to the distances', () => {
    // 10 % nearer to the camera: it looks 1/0.9 times as large as it would in the plane of motion.
    const scale = scaleOf({ ...staff, depth: { reference: [2.7, 2.7], motion: [3, 3] } })!
    expect(scale.metresPerPixel).toBeCloseTo(1.4 / 0.9 / 315, 12)
    expect(scale.parts.find(({ source }) => source === 'depth')).toBeUndefined()
  })

  it('with distances that are known as ranges has that as a part of its error', () => {
    const { factor, error } = depthFactor({ reference: [2, 2], motion: [2.7, 3.3] })
    expect(factor).toBeCloseTo(1.5, 12)
    // Half the width over √3, relative to the middle.
    expect(error).toBeCloseTo(0.3 / Math.sqrt(3) / 3, 12)
    const scale = scaleOf({ ...staff, depth: { reference: [2, 2], motion: [2.7, 3.3] } })!
    expect(scale.parts.find(({ source }) => source === 'depth')!.error).toBeCloseTo(error, 12)
  })

  it('tells the angle of the reference whichever end comes first', () => {
    const ramp = {
      ...staff,
      ends: [
        { x: 0, y: 100 },
        { x: 100, y: 0 },
      ] as typeof staff.ends,
    }
    expect(referenceAngle(ramp).angle).toBeCloseTo(Math.PI / 4, 12)
    expect(referenceAngle({ ...ramp, ends: [ramp.ends[1], ramp.ends[0]] }).angle).toBeCloseTo(Math.PI / 4, 12)
    expect(referenceAngle(ramp).error).toBeCloseTo((Math.SQRT2 * 0.5) / (100 * Math.SQRT2), 12)
    expect(referenceAngle(staff).angle).toBeCloseTo(Math.PI / 2, 12)
  })
})

describe('several reference lengths', () => {
  const scale = (metresPerPixel: number, error: number): Scale => ({
    metresPerPixel,
    parts: [{ source: 'placing', error, freedom: Number.POSITIVE_INFINITY }],
  })

  it('give their weighted mean, the better known one counting more', () => {
    const both = combineScales([scale(0.004, 0.01), scale(0.00401, 0.001)])!
    // Weights 1/(0.004 · 0.01)² and 1/(0.00401 · 0.001)², worked out by hand.
    expect(both.metresPerPixel).toBeCloseTo((0.004 * 625e6 + 0.00401 * 6.2189e10) / (625e6 + 6.2189e10), 9)
    expect(both.parts).toHaveLength(1)
    expect(relativeScaleError(both)).toBeLessThan(0.001)
  })

  it('that disagree say by how much, and are less sure for it', () => {
    const both = combineScales([scale(0.004, 0.002), scale(0.004 * 1.031, 0.002)])!
    expect(both.spread).toBeCloseTo(0.031, 12)
    expect(both.birge).toBeGreaterThan(10)
    const disagreement = both.parts.find(({ source }) => source === 'disagreement')!
    expect(disagreement.freedom).toBe(1)
    // With two of equal weight the whole error is half their difference.
    expect(relativeScaleError(both)).toBeCloseTo(0.031 / 2 / (1 + 0.031 / 2), 3)
  })

  it('are none, or one alone, without ado', () => {
    expect(combineScales([])).toBeNull()
    const alone = combineScales([scale(0.004, 0.002)])!
    expect(alone).toMatchObject({ metresPerPixel: 0.004, count: 1, birge: 1 })
    expect(combineScales([scale(0.004, 0), scale(0.004, 0)])!.metresPerPixel).toBeCloseTo(0.004, 12)
  })

  const TRUTH = 0.0044
  interface Placing {
    references: { length: number; lengthError: number }[]
    /** How far from the plane of motion they lie without anybody knowing, as a share of its distance. */
    disagreement: number
  }

  /** Returns true if the 95 % interval of one simulated calibration holds the true scale. */
  function holds({ references, disagreement }: Placing, normal: () => number): boolean {
    const scales = references.map(({ length, lengthError }, i) => {
      const pixels = (length / TRUTH) * (1 + disagreement * normal())
      const end = (along: number) => ({
        x: 400 + along * Math.cos(0.3 + i) + 0.5 * normal(),
        y: 300 + along * Math.sin(0.3 + i) + 0.5 * normal(),
      })
      const told = length + lengthError * normal()
      return scaleOf({
        ends: [end(0), end(pixels)],
        length: told,
        lengthError,
        depth: null,
      })!
    })
    const combined = combineScales(scales)!
    const estimated = estimate(
      combined.metresPerPixel,
      'm/px',
      combined.parts.map((part) => ({ ...part, error: combined.metresPerPixel * part.error })),
    )
    return Math.abs(estimated.value - TRUTH) <= halfWidth(estimated)
  }

  function coverage(placing: (uniform: () => number) => Placing, seed: number): number {
    const uniform = randomSource(seed)
    const normal = normalSource(randomSource(seed + 1))
    let held = 0
    for (let repeat = 0; repeat < REPEATS; repeat++) if (holds(placing(uniform), normal)) held++
    return held / REPEATS
  }

  const lengths = (all: number[], share: number) =>
    all.map((length) => ({ length, lengthError: share * length }))

  it.each<[string, (uniform: () => number) => Placing]>([
    [
      'one, its length wrong within its stated error',
      () => ({ references: lengths([1.4], 0.005), disagreement: 0 }),
    ],
    ['one that is known well', () => ({ references: lengths([1.4], 0.0004), disagreement: 0 })],
    ['three that agree', () => ({ references: lengths([1.4, 0.6, 1], 0.004), disagreement: 0 })],
    [
      'three that disagree by 3 %',
      () => ({ references: lengths([1.4, 1.3, 1.5], 0.0014), disagreement: 0.03 }),
    ],
    [
      'one to four, a quarter of the placings with references that disagree by 1 %',
      (uniform) => ({
        references: lengths(
          Array.from({ length: 1 + Math.floor(4 * uniform()) }, () => 0.5 + uniform()),
          0.003,
        ),
        disagreement: uniform() < 0.25 ? 0.01 : 0,
      }),
    ],
  ])('cover the truth in 93 to 97 of 100 placings: %s', (_, placing) => {
    const share = coverage(placing, 11)
    expect(share).toBeGreaterThanOrEqual(0.93 - SHARE_MARGIN)
    expect(share).toBeLessThanOrEqual(0.97 + SHARE_MARGIN)
  })
})
