import { describe, expect, it } from 'vitest'
import { rulerStep, timeScale } from './timeScale.ts'

describe('time scale', () => {
  it('goes to the strip and back', () => {
    const scale = timeScale(-0.5, 1.5, 1028)
    expect(scale.x(-0.5)).toBe(14)
    expect(scale.x(1.5)).toBe(1014)
    expect(scale.time(scale.x(0.3))).toBeCloseTo(0.3, 12)
  })

  it('has ruler steps that are round and leave room for their labels', () => {
    const scale = timeScale(0, 2, 1028)
    expect(rulerStep(scale, 60)).toBeCloseTo(0.2, 12)
    expect(rulerStep(scale, 30)).toBeCloseTo(0.1, 12)
    expect(rulerStep(timeScale(0, 600, 1028), 60)).toBeCloseTo(50, 9)
  })

  it('does not break on a clip of one frame', () => {
    expect(Number.isFinite(timeScale(0, 0, 500).x(0))).toBe(true)
  })
})
