import { describe, expect, it } from 'vitest'
import { randomSource } from '../random/index.ts'
import type { Background } from './background.ts'
import { coverageOf } from './coverage.ts'
import { differenceFrom } from './difference.ts'
import { type Grid, gridLike, halvedRect, type Plane, pyramid, type Rect, roughValueAt } from './grid.ts'
import { dilated, eroded } from './morphology.ts'

const WHOLE = { x: 0, y: 0, width: 96, height: 64 }
const NOISE = { light: 2, colour: 1.5 }

/** Returns a background and a part of a frame in front of it, of numbers by chance: as unlike as they can be. */
function random(seed: number, rect: Rect): { background: Background; plane: Plane } {
  const next = randomSource(seed)
  const grid = (of: Rect, value: () => number): Grid =>
    gridLike(
      of,
      Float32Array.from({ length: of.width * of.height }, () => value()),
    )
  const bytes = (of: Rect, least: number, most: number) =>
    Uint8Array.from({ length: of.width * of.height }, () => least + (most - least) * next())
  const half = halvedRect(WHOLE)
  const isKnown = () => (next() < 0.9 ? 1 : 0)
  const small = halvedRect(rect)
  return {
    background: {
      value: pyramid(
        grid(WHOLE, () => 30 + 200 * next()),
        1,
      ),
      known: pyramid(grid(WHOLE, isKnown), 1),
      noise: NOISE.light,
      chroma: {
        blue: grid(half, () => 124 + 8 * next()),
        red: grid(half, () => 124 + 8 * next()),
        known: grid(half, isKnown),
        noise: NOISE.colour,
      },
    },
    plane: {
      ...rect,
      data: bytes(rect, 16, 235),
      chroma: { ...small, blue: bytes(small, 122, 134), red: bytes(small, 122, 134) },
    },
  }
}

/** Returns the same difference, worked out pixel by pixel from its definition. */
function differenceByDefinition(
  plane: Plane,
  { value, known, noise, chroma }: Background,
  gain: number,
  ignoresShadows: boolean,
): number[] {
  const at = (grid: Grid, x: number, y: number) =>
    grid.data[(y - grid.y) * grid.width + x - grid.x] ?? Number.NaN
  const shareAt = (x: number, y: number) => {
    const light = plane.data[(y - plane.y) * plane.width + x - plane.x] - 16
    return Math.min(1, light / Math.max(1, gain * (at(value[0], x, y) - 16)))
  }
  const small = plane.chroma!
  const squared = (u: number, v: number) => {
    const { blue, red, noise: deviation } = chroma!
    if (at(chroma!.known, u, v) < 0.5) return 0
    const near = [
      [2 * u, 2 * v],
      [2 * u + 1, 2 * v],
      [2 * u, 2 * v + 1],
      [2 * u + 1, 2 * v + 1],
    ].filter(
      ([x, y]) => x >= plane.x && y >= plane.y && x < plane.x + plane.width && y < plane.y + plane.height,
    )
    const left = ignoresShadows ? near.reduce((sum, [x, y]) => sum + shareAt(x, y), 0) / near.length : 1
    const k = (v - small.y) * small.width + u - small.x
    const b = small.blue[k] - 128 - left * (at(blue, u, v) - 128)
    const r = small.red[k] - 128 - left * (at(red, u, v) - 128)
    return (b * b + r * r) / deviation ** 2
  }
  const colours = gridLike(small, new Float32Array(small.width * small.height))
  colours.data.forEach((_, k) => {
    colours.data[k] = squared(small.x + (k % small.width), small.y + Math.floor(k / small.width))
  })
  return Array.from(plane.data, (light, k) => {
    const [x, y] = [plane.x + (k % plane.width), plane.y + Math.floor(k / plane.width)]
    if (at(known[0], x, y) < 0.5) return Number.NaN
    const colour = roughValueAt(colours, (x + 0.5) / 2, (y + 0.5) / 2)
    let away = (light - 16 - gain * (at(value[0], x, y) - 16)) / noise
    const isDark = Math.min(1, Math.max(0, (shareAt(x, y) - 0.5) / 0.08))
    const keepsColour = Math.min(1, Math.max(0, (6 - Math.sqrt(colour)) / 3))
    if (ignoresShadows && away < 0) away *= 1 - isDark * keepsColour
    return Math.sqrt(Math.max(0, away * away + colour - 3))
  })
}

describe('the difference from a background', () => {
  it.each([
    ['that is even', { x: 16, y: 16, width: 48, height: 32 }],
    ['whose corner and size are odd', { x: 7, y: 11, width: 41, height: 27 }],
    ['of the whole', WHOLE],
    ['of a few pixels', { x: 5, y: 4, width: 3, height: 2 }],
  ])('of a part %s is what its definition says of each pixel', (_, rect) => {
    for (const [seed, gain] of [1, 0.93, 1.08].entries()) {
      const { background, plane } = random(seed, rect)
      for (const ignoresShadows of [false, true]) {
        const { data, ...where } = differenceFrom(plane, background, { gain, ignoresShadows })
        expect(where).toEqual(rect)
        const expected = differenceByDefinition(plane, background, gain, ignoresShadows)
        expected.forEach((value, k) => {
          if (Number.isNaN(value)) expect(data[k]).toBeNaN()
          else expect(Math.abs(data[k] - value)).toBeLessThan(2e-3)
        })
      }
    }
  })

  it('is of brightness alone where there are no colours', () => {
    const { background, plane } = random(3, { x: 16, y: 16, width: 16, height: 16 })
    const { chroma: _, ...bright } = plane
    const { data } = differenceFrom(bright, background, { gain: 1, ignoresShadows: false })
    data.forEach((value, k) => {
      const at = (16 + Math.floor(k / 16)) * 96 + 16 + (k % 16)
      const away = (plane.data[k] - background.value[0].data[at]) / NOISE.light
      if (background.known[0].data[at] < 0.5) expect(value).toBeNaN()
      else expect(value).toBeCloseTo(Math.sqrt(Math.max(0, away * away - 1)), 3)
    })
  })
})

describe('what covers a background', () => {
  it('is a difference over the largest nearby, without faint rims', () => {
    const next = randomSource(5)
    const rect = { x: 3, y: 2, width: 37, height: 29 }
    const data = Float32Array.from({ length: rect.width * rect.height }, (_, k) => {
      const away = Math.hypot((k % 37) - 18, Math.floor(k / 37) - 14)
      // A body, a faint rim around it, and noise with unknown pixels.
      if (next() < 0.03) return Number.NaN
      return away < 7 ? 30 + 10 * next() : away < 9 ? 6 + 2 * next() : 3 * next()
    })
    const { data: covered } = coverageOf(gridLike(rect, data), 20)
    const [largest, farther] = [2, 5].map((half) => dilated(data, 37, 29, half))
    const faint = data.map((value, k) => (value > 4 && value < 0.35 * farther[k] ? 1 : 0))
    const wide = dilated(eroded(faint, 37, 29, 2), 37, 29, 2)
    let rims = 0
    data.forEach((value, k) => {
      if (Number.isNaN(value)) {
        expect(covered[k]).toBeNaN()
        return
      }
      const isRim = faint[k] > 0 && wide[k] === 0
      if (isRim && largest[k] >= 4) rims++
      const most = Math.max(isRim ? farther[k] : largest[k], 7)
      expect(covered[k]).toBeCloseTo(largest[k] < 4 ? 0 : value / most, 5)
    })
    expect(rims).toBeGreaterThan(20)
  })
})
