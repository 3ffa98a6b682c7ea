import { spawnSync } from 'node:child_process'
import { join } from 'node:path'
import {
  backgroundOf,
  Follower,
  grownOutline,
  outlineReach,
  type Plane,
  partOf,
  templateReach,
} from '@apokinema/core/following'
import { spreadAperiodically, spreadEvenly } from '@apokinema/core/pictures'
import { describe, expect, it } from 'vitest'
import { readTruth } from './fill.ts'
import { frameBytes, planeOf } from './planes.ts'

/** Frames from which the background is learned. */
const STILL_FRAMES = 21

/** Stretches of the samples in which a body moves freely, and the error allowed there in pixels: less where the picture is clean. */
const STRETCHES: {
  sample: string
  from: number
  to: number
  /** Where the background is learned from, for a camera that stands still. */
  still: 'span' | 'clip' | null
  error: number
}[] = [
  { sample: 'net-float', from: 30, to: 68, still: 'span', error: 0.3 },
  // As the page follows it, until the basket begins to hide it.
  { sample: 'net-float', from: 30, to: 75, still: 'clip', error: 0.7 },
  { sample: 'barrel-on-plank', from: 13, to: 60, still: 'span', error: 0.3 },
  { sample: 'fish-sledge', from: 19, to: 53, still: 'span', error: 0.3 },
  { sample: 'paper-lantern', from: 0, to: 240, still: 'span', error: 0.15 },
  { sample: 'swing-boat', from: 12, to: 150, still: 'span', error: 0.15 },
  { sample: 'crane-pebble', from: 40, to: 140, still: 'span', error: 0.3 },
  // From the bright sky over the dark water.
  { sample: 'crane-pebble', from: 70, to: 171, still: 'clip', error: 0.3 },
  { sample: 'bead-in-syrup', from: 0, to: 143, still: 'span', error: 0.3 },
  { sample: 'hoisted-lantern', from: 0, to: 119, still: null, error: 0.3 },
  { sample: 'ice-blocks', from: 0, to: 70, still: 'span', error: 0.3 },
  { sample: 'fender', from: 0, to: 150, still: 'span', error: 0.3 },
]

/** Returns the frames of a sample as following reads them: brightness, and colour differences at half the size. */
function framesOf(sample: string, width: number, height: number): Plane[] {
  const path = join(import.meta.dirname, '../samples', sample, 'footage.mp4')
  const { stdout, status } = spawnSync(
    'ffmpeg',
    ['-loglevel', 'error', '-i', path, '-pix_fmt', 'yuv420p', '-f', 'rawvideo', '-'],
    { maxBuffer: 2 ** 30 },
  )
  expect(status).toBe(0)
  const size = frameBytes(width, height)
  return Array.from({ length: Math.floor(stdout.length / size) }, (_, i) =>
    planeOf(new Uint8Array(stdout.buffer, stdout.byteOffset + i * size, size), width, height),
  )
}

describe.each(STRETCHES)(
  'followed through $sample, frames $from to $to',
  ({ sample, from, to, still, error }) => {
    const truth = readTruth(sample)
    const frames = framesOf(sample, truth.width, truth.height)
    const span = frames.slice(from, to + 1)
    const spread = {
      span: () => spreadEvenly(span, STILL_FRAMES),
      clip: () => spreadAperiodically(frames, STILL_FRAMES),
    }
    const background = still && backgroundOf(spread[still]())

    it.each(truth.bodies)('$name is where it truly is', ({ frames: places }) => {
      const at = places[from]
      const outline = grownOutline(partOf(frames[from], outlineReach(at)), at, background)
      const follower = new Follower(
        partOf(frames[from], templateReach(at, outline)),
        at,
        from / truth.captureRate,
        outline,
        background,
        truth,
        1 / truth.captureRate,
        { persistence: 0.5, change: 'slowly' },
      )
      const errors: number[] = []
      for (let frame = from + 1; frame <= to; frame++) {
        const time = frame / truth.captureRate
        const seen = follower.see(partOf(frames[frame], follower.reach(time).rect), time)
        if (seen.kind === 'found')
          errors.push(Math.hypot(seen.at.x - places[frame].x, seen.at.y - places[frame].y))
      }
      expect(errors.length).toBeGreaterThanOrEqual(0.97 * (to - from))
      expect(Math.max(...errors)).toBeLessThan(3)
      expect(Math.sqrt(errors.reduce((sum, e) => sum + e * e, 0) / errors.length)).toBeLessThan(error)
    })
  },
)
