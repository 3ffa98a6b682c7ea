import { describe, expect, it } from 'vitest'
import { DIRECTIONS, type Outline, roundOutline } from './outline.ts'
import { streakOf } from './streak.ts'

/** Returns the outline of a disc that was swept along a way, around a point beside its middle. */
function swept(radius: number, way: { x: number; y: number }, clicked = { x: 0, y: 0 }): Outline {
  const half = Math.hypot(way.x, way.y) / 2
  const [cos, sin] = half > 0 ? [way.x / 2 / half, way.y / 2 / half] : [1, 0]
  const depth = (x: number, y: number) => {
    const [u, v] = [cos * x + sin * y, cos * y - sin * x]
    return radius - Math.hypot(Math.max(0, Math.abs(u) - half), v)
  }
  return {
    radii: Array.from({ length: DIRECTIONS }, (_, i) => {
      const angle = (2 * Math.PI * i) / DIRECTIONS
      let r = 0
      while (depth(clicked.x + r * Math.cos(angle), clicked.y + r * Math.sin(angle)) > 0) r += 0.01
      return r
    }),
  }
}

describe('the streak of a disc', () => {
  it.each([
    [{ x: 40, y: 0 }, 0.8, { x: 0, y: 0 }],
    [{ x: 24, y: -32 }, 0.6, { x: 0, y: 0 }],
    [{ x: -15, y: 30 }, 0.9, { x: 3, y: -2 }],
  ])(
    'along %o is as long as the way while the shutter was open, and the rest is the disc',
    (step, share, clicked) => {
      const outline = swept(16, { x: share * step.x, y: share * step.y }, clicked)
      const streak = streakOf(outline, step)!
      // Two pixels: the outline is known in 24 directions only.
      expect(Math.abs(streak.length - share * Math.hypot(step.x, step.y))).toBeLessThan(2)
      const disc = swept(16, { x: 0, y: 0 }, clicked)
      for (const [i, radius] of streak.outline.radii.entries())
        expect(Math.abs(radius - disc.radii[i])).toBeLessThan(2)
    },
  )

  it('is none where it is round, lies across the way, or is longer than the way', () => {
    expect(streakOf(roundOutline(16), { x: 30, y: 0 })).toBeNull()
    const long = swept(8, { x: 30, y: 0 })
    expect(streakOf(long, { x: 2, y: 40 })).toBeNull()
    expect(streakOf(long, { x: 20, y: 0 })).toBeNull()
    expect(streakOf(long, { x: 40, y: 0 })).not.toBeNull()
  })
})
