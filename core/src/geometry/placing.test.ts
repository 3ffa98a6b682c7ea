import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import { directionInPicture, distance, lineError, meanPlacingError, placeOf, placingError } from './index.ts'

describe('the error of a placed point', () => {
  it('is what people see on a sharp picture that is shown large, or that keys move the point on', () => {
    expect(placingError('mouse', 16, Number.NaN)).toBeCloseTo(0.5, 2)
    expect(placingError('keys', 0.1, Number.NaN)).toBe(0.5)
    expect(placingError('keys', 0.1, 1.5)).toBe(0.5)
  })

  it('grows with the footage pixels that one pixel of the screen covers', () => {
    // A 3840 px wide clip on a stage of 1040 px: one pixel of the screen is 3.7 of the footage.
    expect(placingError('mouse', 1 / 3.7, Number.NaN)).toBeCloseTo(Math.hypot(0.5, 1.85), 9)
    expect(placingError('mouse', 1, Number.NaN)).toBeCloseTo(Math.SQRT1_2, 9)
    expect(placingError('touch', 1, Number.NaN)).toBeGreaterThan(placingError('mouse', 1, Number.NaN))
  })

  it('grows with the width of a blurred edge', () => {
    expect(placingError('keys', 1, 8)).toBe(2)
  })
})

describe('the error of a line', () => {
  it('is what its direction and its relative length scatter by where its ends do', () => {
    const normal = normalSource(randomSource(5))
    const ends = [
      { x: 100, y: 200, error: 0.5 },
      { x: 300, y: 140, error: 1.5 },
    ] as const
    const [directions, lengths] = [[] as number[], [] as number[]]
    for (let repeat = 0; repeat < 4000; repeat++) {
      const [a, b] = ends.map(({ x, y, error }) => ({ x: x + error * normal(), y: y + error * normal() }))
      directions.push(directionInPicture(a, b) - directionInPicture(...ends))
      lengths.push(distance(a, b) / distance(...ends) - 1)
    }
    const scatter = (values: number[]) =>
      Math.sqrt(values.reduce((sum, value) => sum + value * value, 0) / values.length)
    expect(Math.abs(scatter(directions) / lineError(ends) - 1)).toBeLessThan(0.05)
    expect(Math.abs(scatter(lengths) / lineError(ends) - 1)).toBeLessThan(0.05)
  })

  it('takes half a pixel for ends of which nothing is said', () => {
    const ends = [
      { x: 0, y: 0 },
      { x: 0, y: 100 },
    ] as const
    expect(lineError(ends)).toBeCloseTo(Math.SQRT1_2 / 100, 12)
    expect(
      meanPlacingError([
        { x: 0, y: 0 },
        { x: 0, y: 0, error: 1.5 },
      ]),
    ).toBeCloseTo(Math.sqrt(1.25), 12)
  })
})

it('keeps of a placed point its place and error only', () => {
  expect(placeOf({ x: 1, y: 2, frame: 3 } as never)).toEqual({ x: 1, y: 2 })
  expect(placeOf({ x: 1, y: 2, error: 0.7 })).toEqual({ x: 1, y: 2, error: 0.7 })
})
