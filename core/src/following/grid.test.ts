import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { backgroundOf } from './background.ts'
import {
  type Grid,
  gridOf,
  halved,
  overlap,
  type Plane,
  partOf,
  pyramid,
  rectAround,
  roughValueAt,
  valueAt,
} from './grid.ts'
import { depthIn, type Outline, radiusAt, roundOutline } from './outline.ts'

/** Returns a grid of a function of the place of its pixels' middles. */
function gridFrom(
  of: (x: number, y: number) => number,
  { x, y, width, height } = { x: 8, y: 4, width: 20, height: 16 },
): Grid {
  const data = Float32Array.from({ length: width * height }, (_, i) =>
    of(x + (i % width) + 0.5, y + Math.floor(i / width) + 0.5),
  )
  return { x, y, width, height, data }
}

describe('a value between pixels', () => {
  const parabola = (x: number, y: number) => 20 + 3 * x - y + 0.4 * x * x - 0.25 * y * y + 0.1 * x * y

  it('is exact for parabolas', () => {
    const grid = gridFrom(parabola)
    fc.assert(
      fc.property(
        fc.double({ min: 9.5, max: 26, noNaN: true }),
        fc.double({ min: 5.5, max: 18, noNaN: true }),
        (x, y) => {
          expect(Math.abs(valueAt(grid, x, y) - parabola(x, y))).toBeLessThan(1e-3)
        },
      ),
    )
  })

  it('is none where the sixteen around it are not all there', () => {
    const grid = gridFrom(parabola)
    for (const [x, y] of [
      [9.4, 10],
      [26.6, 10],
      [15, 5.4],
      [15, 18.6],
      [Number.NaN, 10],
    ])
      expect(valueAt(grid, x, y)).toBeNaN()
  })

  it('by the nearest four is exact for planes, and nothing outside', () => {
    const grid = gridFrom((x, y) => 5 + 2 * x - 3 * y)
    expect(roughValueAt(grid, 13.27, 9.81)).toBeCloseTo(5 + 2 * 13.27 - 3 * 9.81, 4)
    expect(roughValueAt(grid, 8.2, 9)).toBe(0)
    expect(roughValueAt(grid, 13, 30)).toBe(0)
  })
})

describe('halved grids', () => {
  it('keep a plane, and lie where they lay', () => {
    const plane = (x: number, y: number) => 7 + 1.5 * x - 0.5 * y
    const [whole, half, quarter] = pyramid(gridFrom(plane), 3)
    expect(half).toMatchObject({ x: 4, y: 2, width: 10, height: 8 })
    expect(quarter).toMatchObject({ x: 2, y: 1, width: 5, height: 4 })
    // A pixel of the smaller grid has its middle where four of the larger one meet.
    expect(half.data[0]).toBeCloseTo(plane(9, 5), 4)
    expect(quarter.data[0]).toBeCloseTo(plane(10, 6), 4)
    const mean = (grid: Grid) => grid.data.reduce((sum, value) => sum + value, 0) / grid.data.length
    expect(mean(quarter)).toBeCloseTo(mean(whole), 3)
  })

  it('leave out a last row and column that have no partner', () => {
    const odd = halved(gridFrom((x) => x, { x: 0, y: 0, width: 7, height: 5 }))
    expect(odd).toMatchObject({ width: 3, height: 2 })
    expect([...odd.data]).toEqual([1, 3, 5, 1, 3, 5])
  })
})

describe('parts of a picture', () => {
  const plane: Plane = {
    x: 10,
    y: 20,
    width: 6,
    height: 4,
    data: Uint8Array.from({ length: 24 }, (_, i) => i),
  }

  it('are what two rectangles have in common', () => {
    expect(overlap(plane, { x: 12, y: 0, width: 100, height: 22 })).toEqual({
      x: 12,
      y: 20,
      width: 4,
      height: 2,
    })
    expect(overlap(plane, { x: 40, y: 21, width: 5, height: 5 })).toMatchObject({ width: 0 })
  })

  it('have the pixels that lie there', () => {
    const part = partOf(plane, { x: 13, y: 21, width: 2, height: 2 })
    expect(part).toMatchObject({ x: 13, y: 21, width: 2, height: 2 })
    expect([...part.data]).toEqual([9, 10, 15, 16])
    expect([...gridOf(part).data]).toEqual([9, 10, 15, 16])
  })

  it('of several bytes a pixel have all of them', () => {
    const colours = { ...plane, width: 3, height: 2, data: Uint8Array.from({ length: 24 }, (_, i) => i) }
    const part = partOf(colours, { x: 11, y: 21, width: 1, height: 1 }, 4)
    expect([...part.data]).toEqual([16, 17, 18, 19])
  })

  it('around a point reach as far as is asked for, in steps', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -500, max: 500, noNaN: true }),
        fc.double({ min: 0, max: 90, noNaN: true }),
        fc.constantFrom(1, 8, 16),
        (at, reach, step) => {
          const rect = rectAround({ x: at, y: -at }, { x: reach, y: reach / 2 }, step)
          for (const value of Object.values(rect)) expect(Math.abs(value % step)).toBe(0)
          expect(rect.x).toBeLessThanOrEqual(at - reach + 1e-9)
          expect(rect.x + rect.width).toBeGreaterThan(at + reach - 1e-9)
          expect(rect.width).toBeLessThan(2 * reach + 2 * step + 1e-9)
          expect(rect.y + rect.height).toBeGreaterThan(-at + reach / 2 - 1e-9)
        },
      ),
    )
  })
})

describe('how deep a point lies in an outline', () => {
  it('is the way to the line near it, and more farther away', () => {
    const outline: Outline = { radii: roundOutline(20).radii.map((radius, i) => radius + 3 * Math.sin(i)) }
    const depthAt = depthIn(outline)
    for (let k = 0; k < 200; k++) {
      const [angle, away] = [0.7 * k, (k % 40) + 0.3]
      const [x, y] = [away * Math.cos(angle), away * Math.sin(angle)]
      const exact = radiusAt(outline, Math.atan2(y, x)) - away
      const predicted = depthAt(x, y)
      if (Math.abs(exact) < 2) expect(predicted).toBeCloseTo(exact, 9)
      else expect(Math.sign(exact) * predicted).toBeGreaterThan(1.99)
    }
  })
})

describe('what never moves', () => {
  const scene = (x: number, y: number) => 100 + 20 * Math.sin(x / 4) + 10 * Math.cos(y / 3)
  const size = { x: 0, y: 0, width: 48, height: 32 }
  const film = (count: number, thing: (frame: number) => number | null) =>
    Array.from({ length: count }, (_, frame): Plane => {
      const at = thing(frame)
      const grid = gridFrom(
        (x, y) => (at !== null && Math.hypot(x - at, y - 16) < 4 ? 230 : scene(x, y)),
        size,
      )
      return { ...size, data: Uint8Array.from(grid.data, Math.round) }
    })

  it('is what most frames show: something that passes leaves no trace', () => {
    const { value, known } = backgroundOf(film(21, (frame) => 2.4 * frame))
    value[0].data.forEach((light, i) => {
      expect(Math.abs(light - scene((i % 48) + 0.5, Math.floor(i / 48) + 0.5))).toBeLessThan(0.51)
    })
    expect(known[0].data.every((share) => share === 1)).toBe(true)
    expect(value.map(({ width }) => width)).toEqual([48, 24, 12, 6])
  })

  it('is not known where something rested for a while', () => {
    const { known } = backgroundOf(film(21, (frame) => (frame < 8 ? 24 : null)))
    const at = (x: number, y: number) => known[0].data[y * 48 + x]
    expect(at(24, 16)).toBe(0)
    expect(at(5, 5)).toBe(1)
  })
})
