import { describe, expect, it } from 'vitest'
import { sceneTransform } from '../geometry/index.ts'
import { PlacedMarks } from './placedMarks.ts'

/** Two centimetres a pixel, axes turned by 30° about a point of the picture. */
const tilt = Math.PI / 6
const transform = sceneTransform(
  { origin: { x: 100, y: 200 }, tilt, turnedX: false, turnedY: false, camera: null },
  { lens: null, camera: null, plane: null, metresPerPixel: 0.02 },
)
const placed = new PlacedMarks(
  [3, 5],
  () => transform,
  [
    { x: 150, y: 200 },
    { x: 100, y: 100 },
  ],
  { 5: { x: 110, y: 100 } },
  (frame) => 0.1 * frame,
  0,
)

describe('marks with their calibration applied', () => {
  it('lie where the axes say', () => {
    const { x, y } = placed.place(0)
    expect(x).toBeCloseTo(50 * 0.02 * Math.cos(tilt), 12)
    expect(y).toBeCloseTo(-50 * 0.02 * Math.sin(tilt), 12)
    expect(placed.second(0)).toBeNull()
    expect(placed.second(1)!.x - placed.place(1).x).toBeCloseTo(10 * 0.02 * Math.cos(tilt), 12)
    expect([placed.count, placed.hasSeconds]).toEqual([2, true])
  })

  it('have an error that no turn of the axes changes', () => {
    expect(placed.error(0, [1, 0])).toBeCloseTo(0.3 * 0.02, 12)
    expect(placed.error(0, [0.6, 0.8])).toBeCloseTo(0.3 * 0.02, 12)
    expect(placed.variance(1)).toBeCloseTo((0.5 * 0.02) ** 2, 12)
  })

  it('go with their second point where there is one', () => {
    const along = [1, 0, -1, 0]
    // The distance of two points that are equally uncertain.
    expect(placed.error(1, along)).toBeCloseTo(Math.SQRT2 * 0.5 * 0.02, 12)
    expect(placed.error(0, along)).toBeCloseTo(0.3 * 0.02, 12)
    expect(placed.sensitivity(0, along, 2)).toBe(0)
  })
})
