import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { edit } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { REPEATS, SHARE_MARGIN } from '../testing/extent.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { fitColumns, halfWidth, throwReadings } from './index.ts'

/** How often the 95 % interval of a reading holds the truth where followed marks drift: neighbours share their errors. */

const START = { x: 2.6, y: 4.2 }
const TRUTH: Record<string, number> = {
  acceleration: -9.81,
  velocity: START.x,
  'throw-angle': (Math.atan2(START.y, START.x) * 180) / Math.PI,
}

interface Case {
  frames: number
  /** Correlation of the errors of neighbouring marks. */
  correlation: number
  /** Least and largest share of repeats that may be covered: few marks hardly tell their correlation, and what is usual is taken. */
  least: number
  most: number
}

const CASES: Case[] = [
  { frames: 60, correlation: 0.6, least: 0.92, most: 0.97 },
  { frames: 60, correlation: 0.3, least: 0.94, most: 0.992 },
  { frames: 24, correlation: 0.6, least: 0.92, most: 0.975 },
  // The marks take so slow a drift for motion; what the law leaves tells it.
  { frames: 60, correlation: 0.9, least: 0.92, most: 0.985 },
]

/** Error of a mark, and what a followed point drifts on its body over a whole throw in all, as on rendered clips, in pixels. */
const ERROR = 0.2
const DRIFT = { along: 0.2, bend: 0.12 }

/** What is missing to a drift where neighbouring errors alone make the coefficient of a Legendre polynomial of a degree vary. */
function missing(size: number, degree: number, { frames, correlation }: Case): number {
  const known = (ERROR ** 2 * (2 * degree + 1) * (1 + correlation)) / ((1 - correlation) * frames)
  return Math.sqrt(Math.max(0, size ** 2 - known))
}

/**
 * Readings of a followed throw of which the marks are missed by 0.2 px, neighbours alike, and drift over the whole throw; the ends of
 * the reference are missed by 0.5 px.
 */
function readingsOf(seed: number, one: Case) {
  const { frames, correlation } = one
  const normal = normalSource(randomSource(seed))
  const drift = [normal(), normal()]
  const wandering = [0, 1].map(() => ({
    along: missing(DRIFT.along, 1, one) * normal(),
    bend: missing(DRIFT.bend, 2, one) * normal(),
  }))
  let frame = 0
  const made = thrown({
    frames,
    placeEnd: ({ x, y }) => ({ x: x + 0.5 * normal(), y: y + 0.5 * normal() }),
    ticks: Array.from({ length: frames }, (_, i) => (i * 256 * 48) / frames).map(Math.round),
    place: ({ x, y }) => {
      const u = (2 * frame++) / (frames - 1) - 1
      const [offX, offY] = wandering.map(
        ({ along, bend }, k) => ERROR * drift[k] + along * u + (bend * (3 * u * u - 1)) / 2,
      )
      const at = { x: x + offX, y: y + offY }
      for (const k of [0, 1]) drift[k] = correlation * drift[k] + Math.sqrt(1 - correlation ** 2) * normal()
      return at
    },
  })
  const { document } = edit(made, (draft) => {
    for (const mark of Object.values(draft.bodies[THROWN.body].marks))
      Object.assign(mark, { by: 'follow', certainty: 1 })
  })
  const table = analyse(document).table(THROWN.body)
  const fits = fitColumns(
    [
      { table, quantity: 'y', model: 'uniform-acceleration' },
      { table, quantity: 'x', model: 'uniform' },
    ],
    { from: 0, to: 1000 },
    { model: 'uniform-acceleration' },
  )
  return [...fits.flatMap(({ readings }) => readings), ...throwReadings(fits)]
}

describe.each(CASES)('$frames marks whose neighbours correlate by $correlation', (one) => {
  it('have intervals that cover the truth about as often as they say', () => {
    const covered = new Map(Object.keys(TRUTH).map((key) => [key, 0]))
    for (let repeat = 0; repeat < REPEATS; repeat++)
      for (const reading of readingsOf(7919 * repeat + 5, one)) {
        const truth = TRUTH[reading.key]
        if (truth !== undefined && Math.abs(reading.value - truth) <= halfWidth(reading))
          covered.set(reading.key, covered.get(reading.key)! + 1)
      }
    for (const count of covered.values()) {
      expect(count / REPEATS).toBeGreaterThan(one.least - SHARE_MARGIN)
      expect(count / REPEATS).toBeLessThan(one.most + SHARE_MARGIN)
    }
  })
})
