import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  type CaptureRate,
  clampSpan,
  decodeTicks,
  encodeTicks,
  fileTiming,
  frameAt,
  frameTimes,
  median,
  nearestFrame,
  proposedStep,
  readoutOfEdge,
  realClock,
  rowDelay,
  type Timing,
  unevenFrames,
  usedFrames,
} from './index.ts'

describe('a median', () => {
  const bySorting = (values: number[]) => {
    const sorted = Float64Array.from(values).sort()
    const half = sorted.length >> 1
    return sorted.length % 2 ? sorted[half] : (sorted[half - 1] + sorted[half]) / 2
  }
  it('is the middle of a sorted list, without sorting it', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.integer({ min: -3, max: 3 }), fc.double({ noNaN: true })), { minLength: 1 }),
        (values) => {
          const given = [...values]
          // Added to 0, so that −0 is 0.
          expect(median(values) + 0).toBe(bySorting(given) + 0)
          expect(values).toEqual(given)
        },
      ),
    )
  })
  it('of a single one is it, of none is no number; what is no number comes last', () => {
    expect(median([7])).toBe(7)
    expect(median([])).toBeNaN()
    expect(median([Number.NaN, 3, 1])).toBe(3)
    expect(median([Number.NaN, 3, 1, 2])).toBe(2.5)
  })
})

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

  it('see through milliseconds in a base of microseconds: what counts is the grain that the ticks have', () => {
    const ticks = Array.from({ length: 456 }, (_, i) => 1000 * Math.round((i * 1000) / 29.97))
    const times = frameTimes(encodeTicks(ticks), { numerator: 1, denominator: 1_000_000 })
    expect(times).toMatchObject({ dequantised: true, even: true, rounding: 0 })
    expect(times.rate).toBeCloseTo(29.97, 2)
  })

  it('take a frame that was dropped for what it is, however coarse the ticks are', () => {
    const kept = [...Array.from({ length: 60 }, (_, i) => i).filter((i) => i !== 30)]
    for (const [step, denominator] of [
      [1, 30],
      [512, 15360],
    ]) {
      const times = frameTimes(encodeTicks(kept.map((i) => i * step)), { numerator: 1, denominator })
      expect(times).toMatchObject({ dequantised: false, even: false })
      expect(times.seconds[30] - times.seconds[29]).toBeCloseTo(2 / 30, 12)
      expect(unevenFrames(times.seconds, times.rounding)).toEqual([30])
    }
  })

  it('keep the true times where a recorder dropped many frames', () => {
    const steps = [5, 6, 11, 5, 7, 5, 9, 6, 5, 5]
    const ticks = steps.map((_, i) => steps.slice(0, i).reduce((sum, step) => sum + step, 0))
    const times = frameTimes(encodeTicks(ticks), { numerator: 1, denominator: 15 })
    expect(times).toMatchObject({ dequantised: false, even: false, rounding: 1 / 15 })
    expect(times.seconds.at(-1)).toBeCloseTo(59 / 15, 12)
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
    const used = usedFrames(span)
    expect(used.list).toEqual([3, 7, 11])
    expect([2, 3, 5, 11, 12, 15].map((frame) => used.has(frame))).toEqual([
      false,
      true,
      false,
      true,
      false,
      false,
    ])
  })

  it('steps along its own frames', () => {
    const used = usedFrames(span)
    expect([3, 5, 11, 30, 0].map((frame) => used.step(frame, 1))).toEqual([7, 7, 11, 11, 3])
    expect([3, 5, 11, 0].map((frame) => used.step(frame, -1))).toEqual([3, 3, 7, 3])
    expect([3, 5, 30].map((frame) => used.step(frame, 2))).toEqual([11, 11, 11])
    expect(used.step(30, -2)).toBe(7)
  })

  it('leaves out frames that repeat the one before', () => {
    const used = usedFrames({ first: 0, last: 9, every: 1 }, new Set([4, 9]))
    expect(used.list).toEqual([0, 1, 2, 3, 5, 6, 7, 8])
    expect(used.has(4)).toBe(false)
    expect([3, 4, 8].map((frame) => used.step(frame, 1))).toEqual([5, 5, 8])
    expect(used.step(4, -1)).toBe(3)
    expect(usedFrames({ first: 4, last: 4, every: 1 }, new Set([4])).list).toEqual([4])
  })

  it('steps so that a hand has about thirty marks to set, and the body moves between them', () => {
    expect(proposedStep(46, null)).toBe(2)
    expect(proposedStep(25, 30)).toBe(1)
    expect(proposedStep(1200, 30)).toBe(40)
    // 0.2 px a frame and ±0.5 px: ten frames for a step of 2 px.
    expect(proposedStep(200, 0.2, 0.5)).toBe(10)
    // … but never so far apart that fewer than ten marks are left.
    expect(proposedStep(46, 0.01, 0.5)).toBe(5)
    expect(proposedStep(1, null)).toBe(1)
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

describe('real clock', () => {
  const base = { numerator: 1, denominator: 30000 }
  const even = encodeTicks(Array.from({ length: 301 }, (_, i) => i * 1000))
  const timing = (change: Partial<Timing>): Timing => ({ ...fileTiming(), ...change })
  const capture = (...ranges: Partial<CaptureRate>[]): Timing =>
    timing({
      capture: Object.fromEntries(
        ranges.map((range, order) => [
          String(order),
          { order, from: null, to: null, rate: null, known: null, ...range },
        ]),
      ),
    })

  it('is the file’s own as long as nobody says otherwise', () => {
    const clock = realClock(even, base, fileTiming())
    expect(clock.seconds[300]).toBeCloseTo(10, 12)
    expect(clock.rate).toBeCloseTo(30, 9)
    expect(clock.rateError).toBeCloseTo(1e-4, 6)
  })

  it('runs at a constant rate on request, with the error that was stated', () => {
    const clock = realClock(even, base, timing({ constantRate: 29.97, rateError: 0.002 }))
    expect(clock.seconds[300]).toBeCloseTo(300 / 29.97, 12)
    expect(clock.rateError).toBe(0.002)
    expect(clock.playback.seconds[300]).toBeCloseTo(10, 12)
  })

  it('knows coarse ticks to be less sure of a rate over a short clip', () => {
    const short = encodeTicks([0, 35, 66, 98, 140])
    const clock = realClock(short, { numerator: 1, denominator: 1000 }, fileTiming())
    expect(clock.rateError).toBeCloseTo(0.001 / Math.sqrt(6) / 0.14, 4)
  })

  it('is as sure of an even clip whose tick is a whole frame as of any other', () => {
    const clock = realClock(
      encodeTicks([0, 1, 2, 3, 4, 5, 6]),
      { numerator: 1, denominator: 30 },
      fileTiming(),
    )
    expect(clock.rateError).toBeCloseTo(1e-4, 12)
  })

  it('shrinks slow motion by capture rate over playback rate', () => {
    const clock = realClock(even, base, capture({ rate: 240 }))
    expect(clock.seconds[300]).toBeCloseTo(10 / 8, 12)
    expect(clock.rate).toBeCloseTo(240, 6)
  })

  it('keeps a dropped frame’s gap, scaled', () => {
    const dropped = encodeTicks([0, 1000, 2000, 4000, 5000, 6000])
    const clock = realClock(dropped, base, capture({ rate: 240 }))
    expect(clock.seconds[3] - clock.seconds[2]).toBeCloseTo(2 / 240, 12)
  })

  it('takes a known time between two frames', () => {
    const clock = realClock(even, base, capture({ known: { from: 10, to: 250, seconds: 1 } }))
    expect(clock.seconds[250] - clock.seconds[10]).toBeCloseTo(1, 12)
  })

  it('has ranges of their own rate, the later one over the earlier', () => {
    const clock = realClock(even, base, capture({ rate: 60 }, { from: 100, to: 200, rate: 240 }))
    expect(clock.seconds[100]).toBeCloseTo(100 / 60, 12)
    expect(clock.seconds[200] - clock.seconds[100]).toBeCloseTo(100 / 240, 12)
    expect(clock.seconds[300] - clock.seconds[200]).toBeCloseTo(100 / 60, 12)
  })

  it('puts repeated frames back to the rate that they were taken at', () => {
    // 24 frames a second saved at 30: every fifth frame repeats the one before.
    const frames = Array.from({ length: 60 }, (_, i) => 5 * i + 4)
    const clock = realClock(
      even,
      base,
      timing({ repeats: { frames, use: 'original-rate', originalRate: 24 } }),
    )
    expect(clock.leftOut.has(4)).toBe(true)
    expect(clock.seconds[4]).toBe(clock.seconds[3])
    expect(clock.seconds[5] - clock.seconds[3]).toBeCloseTo(1 / 24, 12)
    expect(clock.rate).toBeCloseTo(24, 9)
    const shown = realClock(even, base, timing({ repeats: { frames, use: 'keep', originalRate: 24 } }))
    expect(shown.leftOut.size).toBe(0)
    expect(shown.seconds[300]).toBeCloseTo(10, 12)
  })

  it('says nothing of a range in which nothing moves on', () => {
    const clock = realClock(even, base, capture({ from: 20, to: 20, rate: 240 }))
    expect(clock.seconds[300]).toBeCloseTo(10, 12)
    expect(realClock(encodeTicks([5]), base, capture({ rate: 240 })).seconds).toEqual(new Float64Array(1))
  })
})

describe('uneven frames', () => {
  const times = (...lengths: number[]) => {
    let at = 0
    return [0, ...lengths.map((length) => (at += length))]
  }

  it('are those that come a frame late, not the rounding of a tick', () => {
    const lengths: number[] = Array.from({ length: 40 }, (_, i) => (i % 3 === 0 ? 0.033 : 0.034))
    expect(unevenFrames(times(...lengths), 0.001)).toEqual([])
    lengths[20] = 0.067
    expect(unevenFrames(times(...lengths), 0.001)).toEqual([21])
    // Also where a body is so fast that it would be off by a millisecond's way.
    expect(unevenFrames(times(...lengths), 0.001, () => 1e-5)).toEqual([21])
  })

  it('are judged by five scaled median absolute deviations', () => {
    // Deviations of 1, 2, 3 … ms around 40 ms: their median size is 2 ms, so 5 · 1.4826 · 2 ms = 14.8 ms.
    const lengths = [0, 1, -1, 2, -2, 3, -3, 14, 0, 16].map((off) => 0.04 + off / 1000)
    expect(unevenFrames(times(...lengths), 1e-6)).toEqual([10])
  })

  it('are judged by what they would put a body off, where that is known', () => {
    const lengths = Array.from({ length: 20 }, (_, i) => (i === 7 ? 0.05 : 0.04))
    expect(unevenFrames(times(...lengths), 1e-6, () => 0.02)).toEqual([])
    expect(unevenFrames(times(...lengths), 1e-6, () => 0.005)).toEqual([8])
  })
})

describe('rolling shutter', () => {
  const picture = { width: 640, height: 480 }
  it('delays a row by its share of the read-out', () => {
    const readout = { seconds: 0.016, towards: 'down' as const }
    expect(rowDelay(readout, { x: 0, y: 480 }, picture)).toBeCloseTo(0.008, 12)
    expect(rowDelay(readout, { x: 600, y: 240 }, picture)).toBeCloseTo(0, 12)
    expect(rowDelay({ ...readout, towards: 'up' }, { x: 0, y: 480 }, picture)).toBeCloseTo(-0.008, 12)
    expect(rowDelay({ ...readout, towards: 'left' }, { x: 0, y: 9 }, picture)).toBeCloseTo(0.008, 12)
  })

  it('is found from a fast upright edge that leans', () => {
    // At 1500 px/s and 16 ms from top to bottom, an edge over half the picture leans by 12 px.
    const ends: [{ x: number; y: number }, { x: number; y: number }] = [
      { x: 100, y: 120 },
      { x: 112, y: 360 },
    ]
    expect(readoutOfEdge(ends, 1500, 480)).toBeCloseTo(0.016, 12)
    expect(readoutOfEdge([ends[0], { x: 90, y: 120 }], 1500, 480)).toBeNull()
    expect(readoutOfEdge(ends, 0, 480)).toBeNull()
  })
})
