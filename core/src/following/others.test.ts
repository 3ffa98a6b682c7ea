import { describe, expect, it } from 'vitest'
import { isTaken, searchGroups } from './others.ts'

const at = (x: number, radius = 10) => ({ x, y: 0, size: 8, radius })

describe('Bodies that are looked for in one frame', () => {
  it('each by itself where they are far apart', () => {
    expect(searchGroups([at(0), at(200), at(400)])).toEqual([[0], [1], [2]])
  })
  it('one after the other where they are near, in their order, and through others between them', () => {
    expect(searchGroups([at(0), at(300), at(80), at(40)])).toEqual([[1], [0, 2, 3]])
  })
  it('the wider they are looked for, the more of them belong together', () => {
    expect(searchGroups([at(0), at(200, 90)])).toEqual([[0, 1]])
  })
  it('in different groups can’t take each other’s place, wherever they are found', () => {
    for (const distance of [30, 45, 52, 53, 60, 90]) {
      const [one, other] = [at(0), at(distance)]
      if (searchGroups([one, other]).length === 1) continue
      // The farthest that both are looked for, towards each other.
      const found = { ...other, x: other.x - 2.2 * other.radius }
      for (let off = 0; off <= 2.2 * one.radius; off++)
        expect(isTaken({ x: off, y: 0 }, one, [found])).toBe(false)
    }
  })
})
