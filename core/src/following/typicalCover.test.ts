import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import { TypicalCover } from './typicalCover.ts'

describe('how much of a shape is typically seen', () => {
  it('tells a body that goes behind something, at any speed', () => {
    for (const step of [0.005, 0.02, 0.1]) {
      const cover = new TypicalCover(1)
      let share = 1
      for (let frame = 0; frame < 10; frame++) cover.renew(share)
      while (share > 0 && !cover.isCut(share, 0, false)) {
        cover.renew(share)
        share -= step
      }
      expect(share).toBeGreaterThan(0.78)
    }
  })

  it('takes for no such thing what varies all the time', () => {
    const noise = normalSource(randomSource(3))
    const cover = new TypicalCover(0.85)
    let cuts = 0
    for (let frame = 0; frame < 400; frame++) {
      const share = 0.85 + 0.05 * noise()
      if (frame > 20 && cover.isCut(share, 0, false)) cuts++
      cover.renew(share)
    }
    expect(cuts / 380).toBeLessThan(0.05)
  })

  it('allows for the faint ends of a smear, and asks for more where it comes out again', () => {
    const cover = new TypicalCover(1)
    expect(cover.isCut(0.9, 0, false)).toBe(true)
    expect(cover.isCut(0.9, 0.2, false)).toBe(false)
    expect(cover.isCut(0.94, 0, false)).toBe(false)
    expect(cover.isCut(0.94, 0, true)).toBe(true)
  })

  it('says nothing where the share is not known', () => {
    const cover = new TypicalCover(1)
    cover.renew(Number.NaN)
    expect(cover.isCut(Number.NaN, 0, false)).toBe(false)
    expect(cover.isCut(0.5, 0, false)).toBe(true)
  })
})
