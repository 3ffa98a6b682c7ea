import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  directionInPicture,
  referenceAngle,
  relativeScaleError,
  scaleOf,
  sceneTransform,
  wrapAngle,
} from './index.ts'

const coordinate = fc.double({ min: -4000, max: 4000, noNaN: true })
const angle = fc.double({ min: -Math.PI, max: Math.PI, noNaN: true })
const staff = {
  ends: [
    { x: 760, y: 475 },
    { x: 760, y: 160 },
  ] as [{ x: number; y: number }, { x: number; y: number }],
  length: 1.4,
  lengthError: 0,
  placingError: 0.5,
}

describe('scene transform', () => {
  it('goes to the scene and back', () => {
    fc.assert(
      fc.property(coordinate, coordinate, coordinate, coordinate, angle, (x, y, ox, oy, tilt) => {
        const scene = sceneTransform({ origin: { x: ox, y: oy }, tilt }, 0.0044)
        const back = scene.toPicture(scene.toScene({ x, y }))
        expect(Math.hypot(back.x - x, back.y - y)).toBeLessThan(1e-9)
      }),
    )
  })

  it('has y up and x right when level', () => {
    const scene = sceneTransform({ origin: { x: 100, y: 200 }, tilt: 0 }, 0.01)
    expect(scene.toScene({ x: 150, y: 100 })).toEqual({ x: 0.5, y: 1 })
  })

  it('has +x along a line that rises to the right when the tilt is positive', () => {
    const scene = sceneTransform({ origin: { x: 0, y: 0 }, tilt: Math.PI / 6 }, null)
    const along = scene.toScene({ x: 100 * Math.cos(Math.PI / 6), y: -100 * Math.sin(Math.PI / 6) })
    expect(along.x).toBeCloseTo(100, 10)
    expect(along.y).toBeCloseTo(0, 10)
  })
})

describe('scale', () => {
  it('is length over distance, with both errors', () => {
    const scale = scaleOf({ ...staff, lengthError: 0.007 })!
    expect(scale.metresPerPixel).toBeCloseTo(1.4 / 315, 12)
    expect(relativeScaleError(scale)).toBeCloseTo(Math.hypot(Math.SQRT1_2 / 315, 0.005), 12)
  })

  it('is missing without a length or with both ends on one spot', () => {
    expect(scaleOf(undefined)).toBeNull()
    expect(scaleOf({ ...staff, length: null })).toBeNull()
    expect(scaleOf({ ...staff, ends: [staff.ends[0], staff.ends[0]] })).toBeNull()
  })

  it('tells the angle of the reference whichever end comes first', () => {
    const ramp = {
      ...staff,
      ends: [
        { x: 0, y: 100 },
        { x: 100, y: 0 },
      ] as typeof staff.ends,
    }
    expect(referenceAngle(ramp).angle).toBeCloseTo(Math.PI / 4, 12)
    expect(referenceAngle({ ...ramp, ends: [ramp.ends[1], ramp.ends[0]] }).angle).toBeCloseTo(Math.PI / 4, 12)
    expect(referenceAngle(staff).angle).toBeCloseTo(Math.PI / 2, 12)
  })
})

describe('angles', () => {
  it('run from right towards up in the picture', () => {
    expect(directionInPicture({ x: 0, y: 0 }, { x: 0, y: -5 })).toBeCloseTo(Math.PI / 2, 12)
  })

  it('are brought into half a turn either way', () => {
    expect(wrapAngle(3 * Math.PI)).toBeCloseTo(Math.PI, 12)
    expect(wrapAngle(-Math.PI)).toBeCloseTo(Math.PI, 12)
    expect(wrapAngle(-0.5)).toBe(-0.5)
  })
})
