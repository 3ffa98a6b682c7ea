import { describe, expect, it } from 'vitest'
import { floatList, halfOf, placeOf, withArena } from './index.ts'

describe('the room of the kernels', () => {
  it('is given back, and a list that stays is a copy', () => {
    const first = withArena(1000, () => placeOf(floatList(10)))
    expect(withArena(1000, () => placeOf(floatList(10)))).toBe(first)
    const kept = withArena(1000, () => {
      const list = floatList(4)
      list.set([1, 2, 3, 4])
      return halfOf(list, 2, 2).slice()
    })
    withArena(1000, () => floatList(100).fill(-1))
    expect([...kept]).toEqual([2.5])
  })

  it('grows with what is asked for, and says so where lists in use would be lost', () => {
    const large = 2 ** 24
    expect(withArena(large + 64, () => floatList(large / 4).length)).toBe(large / 4)
    withArena(64, () => {
      const used = floatList(4)
      expect(() => withArena(2 ** 28, () => floatList(2 ** 26))).toThrow(RangeError)
      expect(used).toHaveLength(4)
    })
  })
})
