import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import { REPEATS } from '../testing/extent.ts'
import { outlyingResiduals } from './index.ts'

describe('residuals that lie off', () => {
  it('are named: one of ten that lies six deviations away', () => {
    const residuals = [0.3, -0.8, 1.1, -0.2, 6, 0.4, -1.3, 0.9, -0.5, 0.1]
    expect(outlyingResiduals(residuals, 1)).toEqual([4])
  })

  it('are never named of too few, nor where all are alike', () => {
    expect(outlyingResiduals([0.1, -0.1, 9], 1)).toEqual([])
    expect(outlyingResiduals([0, 0, 0, 0, 0, 0], 2)).toEqual([])
    expect(outlyingResiduals([], 1)).toEqual([])
  })

  it('are named by chance in about one of a hundred series', () => {
    const normal = normalSource(randomSource(5))
    let named = 0
    for (let i = 0; i < REPEATS; i++) {
      const values = Array.from({ length: 8 }, normal)
      const mean = values.reduce((sum, one) => sum + one, 0) / values.length
      if (
        outlyingResiduals(
          values.map((one) => one - mean),
          1,
        ).length > 0
      )
        named++
    }
    expect(named / REPEATS).toBeLessThan(0.01 + 4 * Math.sqrt(0.01 / REPEATS))
  })
})
