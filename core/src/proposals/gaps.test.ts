import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import { withoutPartlyHidden } from './gaps.ts'
import type { FramePoint } from './segments.ts'
import { motionStretches } from './stretches.ts'

const RATE = 60
const ERROR = 0.35
/** Frames in which a post hides the whole of a body. */
const HIDDEN = { from: 25, to: 34 }

/** Returns marks of a slide that slows down evenly behind a post, beside which marks are off by what is given for each frame. */
function behindPost(seed: number, off: Record<number, number> = {}): FramePoint[] {
  const noise = normalSource(randomSource(seed))
  return Array.from({ length: 70 }, (_, frame): FramePoint => {
    const t = frame / RATE
    return {
      frame,
      t,
      x: 40 + 600 * t - 250 * t * t + (off[frame] ?? 0) + ERROR * noise(),
      y: 200 + ERROR * noise(),
    }
  }).filter(({ frame }) => frame < HIDDEN.from || frame > HIDDEN.to)
}

const framesOf = (points: FramePoint[]) => points.map(({ frame }) => frame)

describe('marks beside a gap', () => {
  it('are dropped from the first one on that does not go on as those before it do', () => {
    const off = { 23: -3, 24: -8, 35: 9, 36: 4 }
    for (let seed = 1; seed <= 20; seed++) {
      const points = behindPost(seed, off)
      const left = framesOf(withoutPartlyHidden(points, ERROR))
      expect(left).not.toContain(24)
      expect(left).not.toContain(35)
      for (const frame of [10, 19, 40, 60]) expect(left).toContain(frame)
    }
  })

  it('stay where they fit, but for one in a hundred', () => {
    const [all, left] = [0, 0].map((_, which) =>
      Array.from({ length: 60 }, (_, seed) => {
        const points = behindPost(seed + 1)
        return (which === 0 ? points : withoutPartlyHidden(points, ERROR)).length
      }).reduce((sum, one) => sum + one, 0),
    )
    expect(left / all).toBeGreaterThan(0.99)
  })

  it('stay where fewer frames are missing than something takes to pass', () => {
    const points = behindPost(3, { 24: -8 }).map((one) =>
      one.frame > HIDDEN.to ? { ...one, frame: one.frame - 9 } : one,
    )
    expect(withoutPartlyHidden(points, ERROR)).toHaveLength(points.length)
  })
})

describe('marks in every fourth frame', () => {
  it('have no gap between them, and one where four of them are missing', () => {
    // Behind the first of them is a bounce: what goes on otherwise there is no part of a body.
    const bounced = Array.from({ length: 60 }, (_, i): FramePoint => {
      const t = (4 * i) / RATE
      return { frame: 4 * i, t, x: 300 * t, y: Math.abs(300 * (t - 2)) }
    })
    expect(withoutPartlyHidden(bounced, ERROR)).toEqual(bounced)
    const hidden = bounced.filter((_, i) => i < 13 || i > 16).map((one) => ({ ...one, y: 100 }))
    const off = hidden.map((one, i) => (i === 12 ? { ...one, x: one.x - 8 } : one))
    expect(framesOf(withoutPartlyHidden(off, ERROR))).toEqual(
      framesOf(hidden).filter((frame) => frame !== 48),
    )
  })
})

describe('a body that goes behind a post', () => {
  it('has one stretch before and after it, though the marks beside it are off', () => {
    for (let seed = 1; seed <= 20; seed++) {
      const stretches = motionStretches(behindPost(seed, { 23: -3, 24: -8, 35: 9, 36: 4 }), ERROR)
      expect(stretches).toHaveLength(1)
      expect(stretches[0]).toMatchObject({ from: 0, to: 69, law: 'uniform-acceleration' })
    }
  })
})
