import { expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { edit, edits } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { REPEATS, SHARE_MARGIN } from '../testing/extent.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { fitColumns, halfWidth } from './index.ts'

/** How often the 95 % interval of a velocity holds the truth where the camera turns, and the landmark that undoes it slips. */

const LANDMARK = '00000000-0000-4000-8000-000000000031'
const FRAMES = 50
/** Slow, so that a slip matters more than the scale. */
const TRUTH: Record<string, number> = { velocity: 0.3, 'start-velocity': 0.2 }
/** Standard errors in pixels: of each followed place, and of the slip along the whole clip. */
const MISSED = { mark: 0.1, slip: 0.5 }

/** Velocities of a slow body that a turning camera films, with one landmark that was followed. */
function readingsOf(seed: number) {
  const normal = normalSource(randomSource(seed))
  const off = (size: number) => ({ x: size * normal(), y: size * normal() })
  const pan = (frame: number) => ({ x: 3 * frame - 0.02 * frame * frame, y: -1.5 * frame })
  const slip = off(MISSED.slip)
  let frame = 0
  const made = thrown({
    frames: FRAMES,
    motion: (t) => ({ x: 0.3 * t, y: 0.2 * t - 0.1 * t * t }),
    placeEnd: ({ x, y }) => ({ x: x + 0.5 * normal(), y: y + 0.5 * normal() }),
    place: ({ x, y }) => {
      const [by, noise] = [pan(frame++), off(MISSED.mark)]
      return { x: x + by.x + noise.x, y: y + by.y + noise.y }
    },
  })
  const { document } = edit(made, (draft) => {
    edits.setCameraMotion('turned')(draft)
    for (let at = 0; at < FRAMES; at++) {
      const [by, noise, share] = [pan(at), off(MISSED.mark), at / (FRAMES - 1)]
      const place = {
        x: 900 + by.x + noise.x + share * slip.x,
        y: 600 + by.y + noise.y + share * slip.y,
      }
      if (at === 0) edits.addLandmark(LANDMARK, 0, place)(draft)
      else edits.markLandmark(LANDMARK, at, place)(draft)
    }
  })
  const table = analyse(document).table(THROWN.body)
  return fitColumns(
    [
      { table, quantity: 'y', model: 'uniform-acceleration' },
      { table, quantity: 'x', model: 'uniform' },
    ],
    { from: 0, to: 1000 },
    { model: 'uniform-acceleration' },
  ).flatMap(({ readings }) => readings)
}

it('covers the truth in 93 to 97 % of 2,000 repeats', () => {
  const covered = new Map(Object.keys(TRUTH).map((key) => [key, 0]))
  for (let repeat = 0; repeat < REPEATS; repeat++)
    for (const reading of readingsOf(6007 * repeat + 3)) {
      const truth = TRUTH[reading.key]
      if (truth !== undefined && Math.abs(reading.value - truth) <= halfWidth(reading))
        covered.set(reading.key, covered.get(reading.key)! + 1)
    }
  for (const count of covered.values()) {
    expect(count / REPEATS).toBeGreaterThan(0.93 - SHARE_MARGIN)
    expect(count / REPEATS).toBeLessThan(0.97 + SHARE_MARGIN)
  }
})
