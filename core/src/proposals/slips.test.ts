import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import { type FramePoint, parabolaSegments } from './segments.ts'
import { joinedOverSlips } from './slips.ts'
import { motionStretches } from './stretches.ts'

/** Standard error of a mark by which motions of followed bodies are told apart, and its scatter from frame to frame. */
const ERROR = 0.7
const SCATTER = 0.3
const COUNT = 60

/** Returns marks of a path by frames, off by a slip that is given for each. */
function marked(
  seed: number,
  path: (frame: number) => { x: number; y: number },
  slip: (frame: number) => { x: number; y: number } = () => ({ x: 0, y: 0 }),
): FramePoint[] {
  const noise = normalSource(randomSource(seed))
  return Array.from({ length: COUNT }, (_, frame): FramePoint => {
    const [at, off] = [path(frame), slip(frame)]
    return { frame, t: frame / 60, x: at.x + off.x + SCATTER * noise(), y: at.y + off.y + SCATTER * noise() }
  })
}

const rolling = (frame: number) => ({ x: 40 + 1.5 * frame + 0.06 * frame ** 2, y: 200 + 0.1 * frame })
const SEEDS = Array.from({ length: 20 }, (_, i) => i + 1)

describe('marks that slip', () => {
  /** Off by 2 px in frames 15 to 24, then back. */
  const slipping = (frame: number) => ({ x: frame >= 15 && frame < 25 ? 2 : 0, y: 0 })

  it('are more than one segment, and one stretch', () => {
    let split = 0
    for (const seed of SEEDS) {
      const points = marked(seed, rolling, slipping)
      const segments = parabolaSegments(points, ERROR)
      if (segments.length > 1) split++
      expect(joinedOverSlips(segments, points, ERROR)).toHaveLength(1)
      const [{ from, to, law }, ...others] = motionStretches(points, ERROR)
      expect(others).toEqual([])
      expect(law).toBe('uniform-acceleration')
      expect(from).toBeLessThanOrEqual(1)
      expect(to).toBeGreaterThanOrEqual(COUNT - 2)
    }
    expect(split).toBeGreaterThan(SEEDS.length / 2)
  })
})

describe('two motions one after the other', () => {
  /** Frame in which the second one begins, with the same place and velocity. */
  const CHANGE = 30
  const withAccelerations = (first: number, second: number) => (frame: number) => {
    const [before, after] = [Math.min(frame, CHANGE), Math.max(0, frame - CHANGE)]
    const speed = 2 + first * CHANGE
    return {
      x: 40 + 2 * before + (first * before ** 2) / 2 + speed * after + (second * after ** 2) / 2,
      y: 200,
    }
  }

  it.each([
    ['a slope and a level table', 0.12, 0],
    ['a slope and a slope half as steep', 0.24, 0.12],
    ['a push and friction', 0.2, -0.06],
  ])('stay two: %s', (_, first, second) => {
    for (const seed of SEEDS) {
      const points = marked(seed, withAccelerations(first, second))
      const joined = joinedOverSlips(parabolaSegments(points, ERROR), points, ERROR)
      expect(joined).toHaveLength(2)
      expect(Math.abs(points[joined[1].from].frame - CHANGE)).toBeLessThanOrEqual(6)
    }
  })
})
