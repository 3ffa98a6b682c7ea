import fc from 'fast-check'
import { expect, it } from 'vitest'
import { closed, dilated, eroded } from './morphology.ts'

const grids = fc
  .tuple(fc.integer({ min: 1, max: 14 }), fc.integer({ min: 1, max: 14 }), fc.integer({ min: 0, max: 6 }))
  .chain(([width, height, half]) =>
    fc.record({
      width: fc.constant(width),
      height: fc.constant(height),
      half: fc.constant(half),
      values: fc.array(
        fc.oneof({ weight: 5, arbitrary: fc.integer({ min: -9, max: 9 }) }, fc.constant(Number.NaN)),
        {
          minLength: width * height,
          maxLength: width * height,
        },
      ),
    }),
  )

it.each([
  ['the largest', dilated, Math.max],
  ['the smallest', eroded, Math.min],
] as const)('%s value nearby is what a look at all neighbours finds', (_, filtered, extreme) => {
  fc.assert(
    fc.property(grids, ({ width, height, half, values }) => {
      const found = filtered(Float32Array.from(values), width, height, half)
      for (let row = 0; row < height; row++)
        for (let column = 0; column < width; column++) {
          const near = values.filter((value, at) => {
            const [dx, dy] = [(at % width) - column, Math.floor(at / width) - row]
            return !Number.isNaN(value) && Math.abs(dx) <= half && Math.abs(dy) <= half
          })
          expect(found[row * width + column]).toBeCloseTo(near.length > 0 ? extreme(...near) : 0, 6)
        }
    }),
  )
})

it('a closing is what is largest nearby, then smallest, and leaves what is not known', () => {
  fc.assert(
    fc.property(grids, ({ width, height, half, values }) => {
      const data = Float32Array.from(values)
      const both = eroded(dilated(data, width, height, half), width, height, half)
      const expected = both.map((value, k) => (Number.isNaN(data[k]) ? Number.NaN : value))
      expect(closed(data, width, height, half)).toEqual(expected)
    }),
  )
})
