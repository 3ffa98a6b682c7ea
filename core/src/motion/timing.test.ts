import { describe, expect, it } from 'vitest'
import { analyse, readoutEffect } from '../analysis/index.ts'
import { type Estimate, fitColumn, slowMotionHint } from '../fitting/index.ts'
import { edit, edits, type Investigation, type Mutator } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { clockOf } from '../scene/index.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { flaggedFrames, markErrorOf } from './index.ts'

const change = (document: Investigation, ...mutators: Mutator[]) =>
  mutators.reduce((at, mutator) => edit(at, mutator).document, document)
const acceleration = (document: Investigation) =>
  fitColumn(
    analyse(document).table(THROWN.body),
    'y',
    { from: 0, to: 1e6 },
    { model: 'uniform-acceleration' },
  )
const rateOf = (rate: number, range: { from?: number; to?: number } = {}) =>
  edits.setCaptureRate('00000000-0000-4000-8000-000000000010', {
    from: range.from ?? null,
    to: range.to ?? null,
    rate,
    known: null,
  })

/** Returns the throw's points at true times, but with the ticks that a file would give the frames. */
function filmed(times: number[], ticks: number[]): Investigation {
  const truth = thrown({ ticks: times.map((t) => Math.round(t * 15360)) })
  return edit(truth, (draft) => {
    draft.footage!.ticks = { first: ticks[0], runs: ticks.slice(1).map((tick, i) => [tick - ticks[i], 1]) }
  }).document
}

describe('velocity on the times of the file', () => {
  it('is right within the mark error where frames are dropped and times jitter', () => {
    const random = randomSource(11)
    const normal = normalSource(random)
    const ticks: number[] = []
    for (let frame = 0, at = 0; frame < 80; frame++) {
      at += 256 + Math.round(60 * (random() - 0.5))
      if (random() > 0.15) ticks.push(at)
    }
    const error = 0.3
    const document = thrown({
      ticks,
      place: ({ x, y }) => ({ x: x + error * normal(), y: y + error * normal() }),
    })
    const table = analyse(document).table(THROWN.body)
    const metresPerPixel = 1.4 / 315
    const { rows, values, map } = table.column('vy')
    const off = rows.map((row, at) => {
      const expected = error * metresPerPixel * Math.hypot(...map!.coefficients[at])
      return (values[row] - (4.2 - 9.81 * table.times[row])) / expected
    })
    const rms = Math.sqrt(off.reduce((sum, value) => sum + value * value, 0) / off.length)
    expect(rms).toBeGreaterThan(0.7)
    expect(rms).toBeLessThan(1.3)
  })
})

describe('slow motion', () => {
  // Taken at 240 frames a second, written to be played at 30.
  const times = Array.from({ length: 200 }, (_, i) => i / 240)
  const slow = filmed(
    times,
    times.map((_, i) => i * 512),
  )

  it('reads 64 times too small at first, and says so', () => {
    const fit = acceleration(slow)
    expect(fit.reading.value).toBeCloseTo(-9.81 / 64, 3)
    expect(slowMotionHint(slow, fit)).toEqual({ factor: expect.closeTo(8, 6), captureRate: 240 })
  })

  it('gives g once the capture rate is set, and no hint', () => {
    const set = change(slow, rateOf(240))
    const fit = acceleration(set)
    expect(fit.reading.value).toBeCloseTo(-9.81, 2)
    expect(slowMotionHint(set, fit)).toBeNull()
    expect(clockOf(set)!.rate).toBeCloseTo(240, 6)
  })

  it('gives g from two frames and the real time between them', () => {
    const known = { from: 20, to: 140, seconds: 0.5 }
    const set = change(
      slow,
      edits.setCaptureRate('00000000-0000-4000-8000-000000000010', {
        from: null,
        to: null,
        rate: null,
        known,
      }),
    )
    expect(acceleration(set).reading.value).toBeCloseTo(-9.81, 2)
  })

  it('gives g across a change from slow to normal and back', () => {
    // 60 frames at 60, 80 at 240, 40 at 60, all written at 60.
    const rates = [...Array(60).fill(60), ...Array(80).fill(240), ...Array(40).fill(60)]
    let at = 0
    const ramped = [0, ...rates.slice(1).map((rate) => (at += 1 / rate))]
    const clip = filmed(
      ramped,
      ramped.map((_, i) => i * 256),
    )
    // The interval that leads to a frame has the rate of that frame's range.
    const set = change(clip, rateOf(240, { from: 59, to: 139 }))
    expect(acceleration(clip).reading.value).not.toBeCloseTo(-9.81, 0)
    expect(acceleration(set).reading.value).toBeCloseTo(-9.81, 2)
  })

  it('is not suspected where g is right, in pixels, or along the ground', () => {
    const plain = thrown({})
    expect(slowMotionHint(plain, acceleration(plain))).toBeNull()
    const inPixels = edit(slow, (draft) => {
      draft.references = {}
    }).document
    expect(slowMotionHint(inPixels, acceleration(inPixels))).toBeNull()
    const lying = change(slow, edits.setAxes({ tilt: Math.PI / 2 }))
    const alongX = fitColumn(
      analyse(lying).table(THROWN.body),
      'x',
      { from: 0, to: 1e6 },
      { model: 'uniform-acceleration' },
    )
    expect(slowMotionHint(lying, alongX)?.captureRate).toBe(240)
    expect(slowMotionHint(lying, acceleration(lying))).toBeNull()
  })
})

describe('error of the clock', () => {
  it('counts twice in an acceleration, once in a velocity, not in a position', () => {
    const document = change(thrown({}), edits.setTiming({ rateError: 0.01 }))
    const { parameters, reading } = acceleration(document)
    const timing = (of: Estimate) => of.parts.find(({ source }) => source === 'timing')?.error ?? 0
    expect(timing(reading)).toBeCloseTo(0.02 * 9.81, 9)
    expect(timing(parameters[1])).toBeCloseTo(0.01 * 4.2, 9)
    expect(timing(parameters[0])).toBe(0)
  })

  it('is a typed rate’s own: 1 % more frames a second read 2 % more acceleration', () => {
    const document = change(thrown({}), edits.setTiming({ constantRate: 60.6 }))
    expect(acceleration(document).reading.value).toBeCloseTo(-9.81 * 1.01 ** 2, 8)
  })
})

describe('time zero', () => {
  it('is the first frame of the span or the one that was chosen', () => {
    const late = change(thrown({}), edits.setSpan({ first: 6 }), edits.setTiming({ zero: 12 }))
    const table = analyse(late).table(THROWN.body)
    expect(table.times[0]).toBeCloseTo(-0.1, 12)
    expect(clockOf(late)!.zero).toBeCloseTo(0.2, 12)
  })
})

describe('rolling shutter', () => {
  const readout = { seconds: 0.016, towards: 'down' as const }
  /** Returns a body let go at the top of the picture that reaches its bottom after 0.75 s, filmed row by row. */
  function fall(): Investigation {
    const height = 720
    const g = (2 * height) / 0.75 ** 2
    const document = thrown({ frames: 45 })
    return edit(document, (draft) => {
      draft.references = {}
      draft.bodies[THROWN.body].marks = {}
      for (let frame = 0; frame < 45; frame++) {
        let y = 0
        // Where the row that is read out just then and the body meet.
        for (let turn = 0; turn < 60; turn++) {
          const t = Math.max(0, frame / 60 + readout.seconds * (y / height - 0.5))
          y = 0.5 * g * t * t
        }
        draft.bodies[THROWN.body].marks[frame] = { x: 640, y, by: 'hand' }
      }
    }).document
  }

  it('makes a fall of 0.75 s with 16 ms of read-out read 6 % high', () => {
    const effect = readoutEffect(fall(), THROWN.body, readout)!
    expect(effect).toBeGreaterThan(0.055)
    expect(effect).toBeLessThan(0.07)
  })

  it('is undone row by row', () => {
    const document = fall()
    const g = (2 * 720) / 0.75 ** 2
    expect(Math.abs(acceleration(document).reading.value) / g).toBeGreaterThan(1.05)
    const corrected = acceleration(change(document, edits.setReadout(readout)))
    expect(Math.abs(corrected.reading.value) / g).toBeCloseTo(1, 3)
  })

  it('is not applied where it would turn the order of marks round', () => {
    const document = change(thrown({}), edits.setReadout({ seconds: 1, towards: 'up' }))
    const { times } = analyse(document).table(THROWN.body)
    expect(times[1] - times[0]).toBeCloseTo(1 / 60, 12)
  })
})

describe('flags', () => {
  const dropped = Array.from({ length: 50 }, (_, i) => 256 * (i < 20 ? i : i + 1))

  it('stand where an even clock would put the body off by more than its mark error', () => {
    expect(flaggedFrames(thrown({ ticks: dropped }))).toEqual([20])
    const resting = edit(thrown({ ticks: dropped }), (draft) => {
      for (const mark of Object.values(draft.bodies[THROWN.body].marks)) Object.assign(mark, { x: 5, y: 5 })
    }).document
    expect(flaggedFrames(resting)).toEqual([])
  })

  it('stand by the spread of intervals where nothing is marked', () => {
    const bare = edit(thrown({ ticks: dropped }), edits.removeBody(THROWN.body)).document
    expect(flaggedFrames(bare)).toEqual([20])
    expect(flaggedFrames(edit(thrown({}), edits.removeBody(THROWN.body)).document)).toEqual([])
  })
})

describe('mark error', () => {
  it('is found from the marks alone, whatever the motion, stray marks or not', () => {
    const normal = normalSource(randomSource(3))
    const document = thrown({
      frames: 300,
      place: ({ x, y }) => ({ x: x + 0.8 * normal(), y: y + 0.8 * normal() }),
    })
    const body = document.bodies[THROWN.body]
    expect(markErrorOf(body)).toBeGreaterThan(0.65)
    expect(markErrorOf(body)).toBeLessThan(0.95)
    const stray = edit(document, edits.setMark(THROWN.body, 30, { x: 0, y: 0 })).document
    expect(markErrorOf(stray.bodies[THROWN.body])).toBeLessThan(1)
  })

  it('is half a pixel as long as there are few marks', () => {
    expect(markErrorOf(thrown({ frames: 5 }).bodies[THROWN.body])).toBe(0.5)
  })
})

describe('a turned picture', () => {
  it('changes no number of the scene; mirrored, only the sign of x', () => {
    const plain = analyse(thrown({})).table(THROWN.body)
    for (const way of ['left', 'right', 'mirror'] as const) {
      const table = analyse(change(thrown({}), edits.turnPicture(way))).table(THROWN.body)
      plain.frames.forEach((_, row) => {
        expect(table.column('x').values[row]).toBeCloseTo(
          (way === 'mirror' ? -1 : 1) * plain.column('x').values[row],
          9,
        )
        expect(table.column('y').values[row]).toBeCloseTo(plain.column('y').values[row], 9)
      })
    }
  })
})
