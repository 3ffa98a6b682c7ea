import { describe, expect, it } from 'vitest'
import type { Grid } from '../following/index.ts'
import { distance, type Point } from '../geometry/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { sightingsOfKnown } from './index.ts'

const [WIDTH, HEIGHT] = [320, 180]

/** Returns a wavy background with discs of four quarters, dark and light in turn, and noise. */
function pictureWith(discs: readonly (Point & { radius: number })[], seed: number, light = 1): Grid {
  const normal = normalSource(randomSource(seed))
  const data = new Float32Array(WIDTH * HEIGHT)
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const wave = 120 + 25 * Math.sin(x / 9 + Math.cos(y / 13)) + 20 * Math.sin(y / 7)
      const disc = discs.find((one) => Math.hypot(x + 0.5 - one.x, y + 0.5 - one.y) < one.radius)
      const isDark = disc && x + 0.5 > disc.x === y + 0.5 > disc.y
      data[y * WIDTH + x] = light * (disc ? (isDark ? 50 : 210) : wave) + 2 * normal()
    }
  return { x: 0, y: 0, width: WIDTH, height: HEIGHT, data }
}

const template = (radius: number) => {
  const at = { x: 60.3, y: 70.6 }
  return { picture: pictureWith([{ ...at, radius }], 1), at }
}
const path = [0, 1, 2, 3].map((i) => ({ x: 90.4 + 40.3 * i, y: 120.2 - 15.7 * i }))
const frames = (radius: number, places: readonly Point[] = path, light = 1) =>
  places.map((place, i) => ({ frame: 10 * i, picture: pictureWith([{ ...place, radius }], 20 + i, light) }))

describe('a body that is known from another clip', () => {
  it.each([
    [8, 1],
    [8, 0.7],
    [16, 1],
    [24, 1.2],
  ])('with a radius of %i px is found to a pixel in light %f times as strong', (radius, light) => {
    const found = sightingsOfKnown([template(radius)], frames(radius, path, light), radius)
    expect(found.map(({ frame }) => frame)).toEqual([0, 10, 20, 30])
    found.forEach((one, i) => {
      expect(distance(one, path[i])).toBeLessThan(1)
    })
  })

  it('is not found where it is not', () => {
    const none = [1, 2, 3, 4].map((seed) => ({ frame: seed, picture: pictureWith([], seed) }))
    expect(sightingsOfKnown([template(8)], none, 8)).toEqual([])
  })

  it('is not taken for something alike that stands still', () => {
    const still = Array.from({ length: 4 }, () => path[0])
    expect(sightingsOfKnown([template(8)], frames(8, still), 8)).toEqual([])
  })

  it('is not chosen among twins', () => {
    const twins = path.map((place, i) => ({
      frame: i,
      picture: pictureWith(
        [
          { ...place, radius: 8 },
          { x: 40, y: 30 + 4 * i, radius: 8 },
        ],
        40 + i,
      ),
    }))
    expect(sightingsOfKnown([template(8)], twins, 8)).toEqual([])
  })

  it('is found by the first template that shows it, and not by one at the border', () => {
    const atBorder = { picture: template(8).picture, at: { x: 2, y: 2 } }
    expect(sightingsOfKnown([atBorder, template(8)], frames(8), 8)).toHaveLength(4)
    expect(sightingsOfKnown([atBorder], frames(8), 8)).toEqual([])
  })
})
