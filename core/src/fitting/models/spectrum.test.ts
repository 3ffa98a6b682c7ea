import { describe, expect, it } from 'vitest'
import { randomSource } from '../../random/index.ts'
import { strongestSwings } from './spectrum.ts'

const random = randomSource(12)
/** Times of a record of 4 s, even or shaken by up to a third of a step. */
const record = (count: number, shaken: number) =>
  Float64Array.from({ length: count }, (_, i) => {
    const step = 4 / (count - 1)
    return i * step + (i > 0 && i < count - 1 ? shaken * step * (random() - 0.5) : 0)
  })

describe('The strongest swings of a record', () => {
  it.each([
    [40, 0, 3.3],
    [40, 0.6, 9.2],
    [600, 0.6, 41.7],
    [25, 0.6, 9.5],
  ])('of %i points, shaken by %f, are found near %f cycles', (count, shaken, cycles) => {
    const times = record(count, shaken)
    const values = times.map((t) => 7 + 0.4 * Math.sin((2 * Math.PI * cycles * t) / 4 + 1))
    const [strongest] = strongestSwings(times, values, (count - 1) / 2.5, 5)
    expect(Math.abs(strongest.cycles - cycles)).toBeLessThan(0.2)
  })

  it('come in their order where there are two, and none is beyond the highest that is asked for', () => {
    const times = record(200, 0.3)
    const values = times.map(
      (t) => Math.sin((2 * Math.PI * 12 * t) / 4) + 2 * Math.sin((2 * Math.PI * 31 * t) / 4),
    )
    const found = strongestSwings(times, values, 80, 2).map(({ cycles }) => Math.round(cycles))
    expect(found).toEqual([31, 12])
    const low = strongestSwings(times, values, 20, 5)
    expect(Math.max(...low.map(({ cycles }) => cycles))).toBeLessThanOrEqual(20)
    expect(Math.round(low[0].cycles)).toBe(12)
  })

  it('are none where nothing swings', () => {
    expect(
      strongestSwings(
        record(30, 0),
        Float64Array.from({ length: 30 }, () => 5),
        10,
        3,
      ).every(({ power }) => power < 1e-20),
    ).toBe(true)
  })
})
