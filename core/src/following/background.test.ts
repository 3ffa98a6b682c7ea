import { describe, expect, it } from 'vitest'
import { randomSource } from '../random/index.ts'
import { backgroundOf, type Plane } from './index.ts'

/** Returns the frames of a noisy wall with a steady pattern, of which each pixel is now and then hidden. */
function framesOf(count: number, width: number, height: number, seed: number): Plane[] {
  const next = randomSource(seed)
  const lights = Array.from({ length: width * height }, () => 30 + Math.floor(190 * next()))
  return Array.from({ length: count }, () => {
    const data = Uint8Array.from(lights, (light) =>
      next() < 0.25 ? Math.floor(256 * next()) : light + Math.floor(7 * next()) - 3,
    )
    return { x: 0, y: 0, width, height, data }
  })
}

describe('the background', () => {
  it.each([
    [5, 16, 8],
    [21, 37, 29],
    [22, 203, 171],
    [255, 9, 7],
  ])(
    'of %i frames of %i x %i is the median of each pixel, known where most samples agree',
    (count, width, height) => {
      const frames = framesOf(count, width, height, count)
      const { value, known, noise } = backgroundOf(frames)
      const limit = 2 + 3 * 1.68 * noise
      for (let at = 0; at < width * height; at++) {
        const sorted = frames.map(({ data }) => data[at]).sort((a, b) => a - b)
        const middle = (count - 1) / 2
        expect(value[0].data[at]).toBe((sorted[Math.floor(middle)] + sorted[Math.ceil(middle)]) / 2)
        const spread = sorted[Math.ceil(0.8 * (count - 1))] - sorted[Math.floor(0.2 * (count - 1))]
        expect(known[0].data[at]).toBe(spread <= limit ? 1 : 0)
      }
    },
  )

  it('is not made of more frames than can be sorted', () => {
    expect(() => backgroundOf(framesOf(257, 4, 4, 1))).toThrow(RangeError)
  })
})
