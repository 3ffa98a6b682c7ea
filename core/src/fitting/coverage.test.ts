import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { edit, type Investigation, type ModelId } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { FitError } from '../regression/index.ts'
import { REPEATS, SHARE_MARGIN } from '../testing/extent.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { type FitSettings, fitColumn, halfWidth } from './index.ts'

/**
 * How often the stated 95 % interval of a reading holds the truth, over repeats of the whole way from marks that a hand
 * misses and a reference whose ends it misplaces: for fits to positions and to velocities that are derived from them.
 */

interface Case {
  model: ModelId
  /** Metres up, after so many seconds. */
  motion: (t: number) => number
  frames: number
  quantity: 'y' | 'vy'
  /** Readings by their key, with the truth. */
  truth: Record<string, number>
  /** Frames before which it breaks. */
  breaks?: number[]
}

/** Pixels by which marks, and the reference's ends, are missed. */
const MISSED = { mark: 0.4, end: 0.5 }

const swing = (t: number) => 1 + 0.25 * Math.sin(9 * t + 0.4)
const damped = (t: number) => 1 + 0.3 * Math.exp(-t / 0.7) * Math.sin(11 * t - 0.3)
const sinking = (t: number) => {
  const since = Math.max(0, t - 0.06)
  return 1.6 - 1.8 * (since - 0.15 * (1 - Math.exp(-since / 0.15)))
}
const kinked = (t: number) => (t < 0.27 ? 0.4 + 1.5 * t : 0.805 - 0.7 * (t - 0.27))
const bouncing = (t: number) => {
  const speed = 9.81 * 0.3
  return t < 0.3 ? 0.1 + 4.905 * (0.09 - t * t) : 0.1 + 0.6 * speed * (t - 0.3) - 4.905 * (t - 0.3) ** 2
}

const CASES: Case[] = [
  {
    model: 'uniform-acceleration',
    quantity: 'y',
    frames: 20,
    motion: (t) => 0.3 + 2 * t - 4.905 * t * t,
    truth: { acceleration: -9.81, 'turning-time': 2 / 9.81, 'start-velocity': 2 },
  },
  { model: 'swing', quantity: 'y', frames: 60, motion: swing, truth: { omega: 9, amplitude: 0.25 } },
  { model: 'swing', quantity: 'vy', frames: 60, motion: swing, truth: { omega: 9, amplitude: 0.25 * 9 } },
  {
    model: 'damped-swing',
    quantity: 'y',
    frames: 60,
    motion: damped,
    truth: { omega: 11, decay: 0.7, quality: (11 * 0.7) / 2 },
  },
  {
    model: 'damped-swing',
    quantity: 'vy',
    frames: 60,
    motion: damped,
    truth: { omega: 11, decay: 0.7 },
  },
  {
    model: 'terminal-from-rest',
    quantity: 'y',
    frames: 50,
    motion: sinking,
    truth: { terminal: -1.8, 'time-constant': 0.15 },
  },
  {
    model: 'terminal-from-rest',
    quantity: 'vy',
    frames: 50,
    motion: sinking,
    truth: { terminal: -1.8, 'time-constant': 0.15 },
  },
  {
    model: 'kink',
    quantity: 'y',
    frames: 34,
    motion: kinked,
    truth: { before: 1.5, after: -0.7, kink: 0.27 },
  },
  {
    model: 'bounces',
    quantity: 'y',
    frames: 40,
    motion: bouncing,
    breaks: [18],
    truth: { restitution: 0.6, acceleration: -9.81 },
  },
  {
    model: 'pieces',
    quantity: 'vy',
    frames: 34,
    motion: kinked,
    breaks: [17],
    truth: { 'piece-1': 1.5, 'piece-2': -0.7 },
  },
]

function repeated({ motion, frames, breaks = [] }: Case, seed: number): Investigation {
  const normal = normalSource(randomSource(seed))
  const off = (size: number) => (point: { x: number; y: number }) => ({
    x: point.x + size * normal(),
    y: point.y + size * normal(),
  })
  const made = thrown({
    frames,
    motion: (t) => ({ x: 0.5, y: motion(t) }),
    place: off(MISSED.mark),
    placeEnd: off(MISSED.end),
  })
  return edit(made, (draft) => {
    for (const { ends } of Object.values(draft.references)) for (const end of ends) end.error = MISSED.end
    // A mark's error is told by its own scatter only where the motion is nothing to it.
    draft.bodies[THROWN.body].markError = MISSED.mark
    for (const frame of breaks) draft.bodies[THROWN.body].breaks[frame] = 'break'
  }).document
}

describe.each(CASES)('the 95 % interval of a reading: $model on $quantity', (one) => {
  it('covers the truth in 93 to 97 % of 2,000 repeats, and nothing is ten errors off', () => {
    const settings: FitSettings = { model: one.model }
    const covered = new Map(Object.keys(one.truth).map((key) => [key, 0]))
    let fitted = 0
    for (let repeat = 0; repeat < REPEATS; repeat++) {
      const table = analyse(repeated(one, 7919 * repeat + one.frames)).table(THROWN.body)
      try {
        const { readings } = fitColumn(table, one.quantity, { from: 0, to: 1e6 }, settings)
        fitted++
        for (const [key, truth] of Object.entries(one.truth)) {
          const reading = readings.find((other) => other.key === key)!
          const off = Math.abs(reading.value - truth)
          expect(off).toBeLessThan(10 * reading.error)
          if (off <= halfWidth(reading)) covered.set(key, covered.get(key)! + 1)
        }
      } catch (error) {
        // What is not determined is said, and counts for nothing.
        if (!(error instanceof FitError)) throw error
      }
    }
    expect(fitted).toBeGreaterThan(0.98 * REPEATS)
    for (const [key, count] of covered) {
      expect({ key, share: count / fitted }).toSatisfy(
        ({ share }) => share >= 0.93 - SHARE_MARGIN && share <= 0.97 + SHARE_MARGIN,
      )
    }
  })
})
