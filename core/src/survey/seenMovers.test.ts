import { expect, it } from 'vitest'
import { DIRECTIONS } from '../following/index.ts'
import { type SurveyedClip, seenMover } from './seenMovers.ts'

/** A body at the left of a picture of 80 by 45 small pixels, that reaches 9 small pixels to the right and 3 otherwise. */
const radii = Array.from({ length: DIRECTIONS }, (_, i) => (i === 0 ? 9 : 3))
const sighting = (at: number, x: number) => ({
  at,
  x,
  y: 10,
  area: 28,
  left: x - 3,
  right: x + 9,
  top: 7,
  bottom: 13,
})
const mover = {
  sightings: [sighting(0, 4), sighting(1, 6), sighting(3, 10)],
  best: sighting(1, 6),
  outline: { radii },
  score: 1,
}
const clip: SurveyedClip = {
  frames: [0, 2, 4, 6],
  factor: 4,
  width: 320,
  height: 180,
  rotation: 0,
  flip: false,
}
const farthest = (values: readonly number[]) => values.indexOf(Math.max(...values))

it('a mover is given in frames and pixels of the clip', () => {
  const seen = seenMover(mover, clip)
  expect(seen.path).toEqual([
    { frame: 0, x: 16, y: 40 },
    { frame: 2, x: 24, y: 40 },
    { frame: 6, x: 40, y: 40 },
  ])
  expect(seen.best).toBe(2)
  expect(seen.outline.radii[0]).toBe(36)
  expect(seen.outline.radii[1]).toBe(12)
})

it('a picture that lies is turned upright: the left edge becomes the top, or the bottom', () => {
  const right = seenMover(mover, { ...clip, rotation: 90 })
  expect(right.path[0]).toEqual({ frame: 0, x: 140, y: 16 })
  expect(farthest(right.outline.radii)).toBe(DIRECTIONS / 4)
  const left = seenMover(mover, { ...clip, rotation: 270 })
  expect(left.path[0]).toEqual({ frame: 0, x: 40, y: 304 })
  expect(farthest(left.outline.radii)).toBe((3 * DIRECTIONS) / 4)
})

it('a picture that is mirrored is turned back', () => {
  const seen = seenMover(mover, { ...clip, flip: true })
  expect(seen.path[0]).toEqual({ frame: 0, x: 304, y: 40 })
  expect(farthest(seen.outline.radii)).toBe(DIRECTIONS / 2)
})
