import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  clampSpan,
  decodeTicks,
  encodeTicks,
  frameAt,
  frameTimes,
  inSpan,
  nearestFrame,
  spanFrames,
  stepInSpan,
} from './index.ts'

describe('ticks', () => {
  it('come back as they were', () => {
    fc.assert(
      fc.property(
        fc.integer(),
        fc.array(fc.integer({ min: 1, max: 4000 }), { maxLength: 300 }),
        (first, steps) => {
          const ticks = [first]
          for (const step of steps) ticks.push(ticks.at(-1)! + step)
          expect([...decodeTicks(encodeTicks(ticks))]).toEqual(ticks)
        },
      ),
    )
  })

  it('of an even clip are one run', () => {
    expect(encodeTicks([512, 1024, 1536, 2048]).runs).toEqual([[512, 3]])
  })

  it('must increase', () => {
    expect(() => encodeTicks([0, 5, 5])).toThrow(/Frame 2/)
    expect(() => encodeTicks([])).toThrow(/without frames/)
  })
})

describe('frame times', () => {
  it('keep an uneven clip uneven', () => {
    const times = frameTimes(encodeTicks([0, 1500, 3000, 6000, 7500]), { numerator: 1, denominator: 90000 })
    expect([...times.seconds]).toEqual([0, 1500, 3000, 6000, 7500].map((tick) => tick / 90000))
    expect(times.even).toBe(false)
    expect(times.rate).toBeCloseTo(60, 9)
    expect(times.longest).toBeCloseTo(1 / 30, 12)
  })

  it('see through the rounding of an even clock to milliseconds', () => {
    const ticks = Array.from({ length: 200 }, (_, i) => Math.round((i * 1000) / 60))
    const times = frameTimes(encodeTicks(ticks), { numerator: 1, denominator: 1000 })
    expect(times.dequantised).toBe(true)
    expect(times.even).toBe(true)
    expect(times.rate).toBeCloseTo(60, 2)
  })

  it('do not smooth away a real drop in a millisecond clip', () => {
    const ticks = Array.from({ length: 200 }, (_, i) => Math.round((i * 1000) / 60) + (i > 90 ? 17 : 0))
    expect(frameTimes(encodeTicks(ticks), { numerator: 1, denominator: 1000 }).dequantised).toBe(false)
  })

  it('find the frame on show and the nearest one', () => {
    const { seconds } = frameTimes(encodeTicks([0, 10, 20, 40]), { numerator: 1, denominator: 1000 })
    expect([-1, 0, 0.0099, 0.01, 0.035, 9].map((time) => frameAt(seconds, time))).toEqual([0, 0, 0, 1, 2, 3])
    expect([0.004, 0.006, 0.031].map((time) => nearestFrame(seconds, time))).toEqual([0, 1, 3])
  })

  it('of one frame are a single zero', () => {
    const times = frameTimes(encodeTicks([77]), { numerator: 1, denominator: 30 })
    expect([...times.seconds]).toEqual([0])
    expect(times.rate).toBe(0)
  })
})

describe('span', () => {
  const span = { first: 3, last: 12, every: 4 }

  it('has every n-th frame from the first', () => {
    expect(spanFrames(span)).toEqual([3, 7, 11])
    expect([2, 3, 5, 11, 12, 15].map((frame) => inSpan(span, frame))).toEqual([
      false,
      true,
      false,
      true,
      false,
      false,
    ])
  })

  it('steps along its own frames', () => {
    expect([3, 5, 11, 30, 0].map((frame) => stepInSpan(span, frame, 1))).toEqual([7, 7, 11, 11, 3])
    expect([3, 5, 11, 0].map((frame) => stepInSpan(span, frame, -1))).toEqual([3, 3, 7, 3])
  })

  it('is forced into the clip', () => {
    expect(clampSpan({ first: -5, last: 900, every: 0 }, 46)).toEqual({ first: 0, last: 45, every: 1 })
    expect(clampSpan({ first: 30, last: 10, every: 99 }, 46)).toEqual({ first: 30, last: 30, every: 1 })
    expect(clampSpan({ first: Number.NaN, last: 10.4, every: 2 }, 46)).toEqual({
      first: 0,
      last: 10,
      every: 2,
    })
  })
})
