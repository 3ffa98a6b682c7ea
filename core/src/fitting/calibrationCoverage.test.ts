import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { directionInPicture, lineError, type Point, placingError } from '../geometry/index.ts'
import { edit, type Investigation } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { REPEATS, SHARE_MARGIN } from '../testing/extent.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { fitColumns, halfWidth, type Reading, throwReadings } from './index.ts'

/** How often the 95 % interval of a reading holds the truth where the calibration, not the marks, is what limits it. */

const whole = { from: 0, to: 1000 }
const START = { x: 2.6, y: 4.2 }
const ANGLE = (Math.atan2(START.y, START.x) * 180) / Math.PI

/** Returns a throw whose marks are missed by 0.1 px, with a calibration that `place` has misplaced. */
function filmed(seed: number, place: (off: (size: number) => Point, draft: Investigation) => void) {
  const normal = normalSource(randomSource(seed))
  const off = (size: number) => ({ x: size * normal(), y: size * normal() })
  const made = thrown({
    place: ({ x, y }) => {
      const by = off(0.1)
      return { x: x + by.x, y: y + by.y }
    },
  })
  return edit(made, (draft) => place(off, draft)).document
}

function readingsOf(document: Investigation): Reading[] {
  const table = analyse(document).table(THROWN.body)
  const fits = fitColumns(
    [
      { table, quantity: 'y', model: 'uniform-acceleration' },
      { table, quantity: 'x', model: 'uniform' },
    ],
    whole,
    { model: 'uniform-acceleration' },
  )
  return [...fits.flatMap(({ readings }) => readings), ...throwReadings(fits)]
}

interface Case {
  name: string
  place: (off: (size: number) => Point, draft: Investigation) => void
  truth: Record<string, number>
}

const moved = ({ x, y }: Point, by: Point) => ({ x: x + by.x, y: y + by.y })

const CASES: Case[] = [
  {
    name: 'axes laid along a line of 200 px',
    place: (off, draft) => {
      const from = { ...moved({ x: 400, y: 600 }, off(0.5)), error: 0.5 }
      const to = { ...moved({ x: 600, y: 600 }, off(0.5)), error: 0.5 }
      for (const axes of Object.values(draft.axes))
        Object.assign(axes, { tilt: directionInPicture(from, to), tiltError: lineError([from, to]) })
    },
    truth: { 'throw-angle': ANGLE },
  },
  {
    name: 'an origin that was clicked on a small picture',
    place: (off, draft) => {
      for (const axes of Object.values(draft.axes))
        Object.assign(axes.origin, { ...moved(axes.origin, off(2)), error: 2 })
    },
    truth: { 'turning-place': START.y ** 2 / (2 * 9.81) },
  },
  {
    name: 'a reference that was clicked on a 4K clip, where a pixel of the screen is 3.7 of the footage',
    place: (off, draft) => {
      const zoom = 1 / 3.7
      for (const reference of Object.values(draft.references))
        for (const end of reference.ends) {
          // Seen to half a pixel of the footage, pointed at to half a pixel of the screen.
          const [seen, pointed] = [off(0.5), off(0.5 / zoom)]
          Object.assign(end, moved(end, moved(seen, pointed)))
          end.error = placingError('mouse', zoom, Number.NaN)
        }
    },
    truth: { acceleration: -9.81, 'throw-speed': Math.hypot(START.x, START.y) },
  },
  {
    name: 'an MJPEG clip whose clock ticks once a frame',
    place: (off, draft) => {
      Object.assign(draft.footage!, {
        timeBase: { numerator: 1, denominator: 60 },
        ticks: { first: 0, runs: [[1, 49]] },
      })
      for (const reference of Object.values(draft.references))
        for (const end of reference.ends) Object.assign(end, { ...moved(end, off(0.5)), error: 0.5 })
    },
    truth: { acceleration: -9.81, 'throw-speed': Math.hypot(START.x, START.y) },
  },
]

describe.each(CASES)('$name', ({ place, truth }) => {
  it('the 95 % interval covers the truth in 93 to 97 % of 2,000 repeats', () => {
    const covered = new Map(Object.keys(truth).map((key) => [key, 0]))
    for (let repeat = 0; repeat < REPEATS; repeat++) {
      const readings = readingsOf(filmed(104729 * repeat + 11, place))
      for (const [key, value] of Object.entries(truth)) {
        const reading = readings.find((one) => one.key === key)!
        if (Math.abs(reading.value - value) <= halfWidth(reading)) covered.set(key, covered.get(key)! + 1)
      }
    }
    for (const [key, count] of covered)
      expect({ key, share: count / REPEATS }).toSatisfy(
        ({ share }) => share >= 0.93 - SHARE_MARGIN && share <= 0.97 + SHARE_MARGIN,
      )
  })
})
