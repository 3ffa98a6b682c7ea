import { describe, expect, it } from 'vitest'
import { type Stick, stickPicture } from '../testing/stickPicture.ts'
import { findDivisions } from './index.ts'

const SIZE = [240, 120] as const

/** A tide staff, lying across the picture. */
const staff = (change: Partial<Stick> = {}): Stick => ({
  from: { x: 18.3, y: 40.6 },
  to: { x: 222.8, y: 81.2 },
  width: 9,
  colours: [
    [190, 60, 50],
    [225, 220, 210],
  ],
  stripes: 14,
  ground: [150, 175, 190],
  blur: 0.9,
  noise: 2,
  quantisation: 8,
  seed: 7,
  ...change,
})

const found = (stick: Stick) => findDivisions(stickPicture(stick, ...SIZE), stick.from, stick.to)

describe('divisions along a line', () => {
  it('are counted on an evenly striped stick, and do not shrink', () => {
    for (const stripes of [4, 7, 14, 22]) {
      const divisions = found(staff({ stripes, seed: stripes }))!
      expect(divisions.count).toBe(stripes)
      expect(Math.abs(divisions.shrinkage)).toBeLessThan(3 * divisions.shrinkageError + 0.01)
      expect(divisions.rms).toBeLessThan(0.5)
    }
  })

  it('shrink as they are seen under perspective', () => {
    for (const perspective of [0.7, 0.85]) {
      const divisions = found(staff({ perspective }))!
      expect(divisions.count).toBe(14)
      // The last over the first, each over the mean.
      const shrinkage = divisions.shrinkage
      expect(shrinkage).toBeGreaterThan(0.8 * (1 - perspective))
      expect(shrinkage).toBeLessThan(1.25 * (1 - perspective))
      expect(shrinkage).toBeGreaterThan(3 * divisions.shrinkageError)
    }
  })

  it('are none on a plain stick, on uneven stripes, and on the ground', () => {
    expect(found(staff({ stripes: 1 }))).toBeNull()
    const plain = stickPicture(staff({ stripes: 1 }), ...SIZE)
    expect(findDivisions(plain, { x: 20, y: 100 }, { x: 220, y: 108 })).toBeNull()
    expect(found(staff({ stripes: 14, perspective: 0.08 }))).toBeNull()
  })

  it('are none on a line that is too short or leads out of the picture', () => {
    const picture = stickPicture(staff(), ...SIZE)
    expect(findDivisions(picture, { x: 50, y: 50 }, { x: 58, y: 50 })).toBeNull()
    expect(findDivisions(picture, { x: 20, y: 40 }, { x: 260, y: 90 })).toBeNull()
  })
})
