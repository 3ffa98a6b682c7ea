import { describe, expect, it } from 'vitest'
import { draggedLimits, type Limits, zoomedLimits } from './limits.ts'

/** Value at a share of what is seen. */
const at = ({ from, to }: Limits, share: number, isLog: boolean) =>
  isLog ? from * (to / from) ** share : from + share * (to - from)

describe.each([false, true])('Limits that are taken hold of, logarithmic: %s', (isLog) => {
  const limits = { from: 2, to: 12 }
  it('follow one finger, as wide as before', () => {
    const moved = draggedLimits(limits, [0.3], [0.5], isLog)
    expect(at(moved, 0.5, isLog)).toBeCloseTo(at(limits, 0.3, isLog), 10)
    expect(isLog ? moved.to / moved.from : moved.to - moved.from).toBeCloseTo(isLog ? 6 : 10, 10)
  })
  it('follow two fingers: what lay under each stays there', () => {
    const moved = draggedLimits(limits, [0.4, 0.6], [0.1, 0.9], isLog)
    expect(at(moved, 0.1, isLog)).toBeCloseTo(at(limits, 0.4, isLog), 10)
    expect(at(moved, 0.9, isLog)).toBeCloseTo(at(limits, 0.6, isLog), 10)
  })
  it('are not turned round, nor made endless, by fingers that cross or meet', () => {
    for (const now of [
      [0.5, 0.5],
      [0.6, 0.4],
      [0.5, 0.51],
    ]) {
      const { from, to } = draggedLimits(limits, [0.4, 0.6], now, isLog)
      expect(from).toBeLessThan(to)
      expect(Number.isFinite(from) && Number.isFinite(to)).toBe(true)
    }
  })
  it('keep what is under the wheel', () => {
    const zoomed = zoomedLimits(limits, 0.25, 0.5, isLog)
    expect(at(zoomed, 0.25, isLog)).toBeCloseTo(at(limits, 0.25, isLog), 10)
    expect(at(zoomed, 0, isLog)).toBeGreaterThan(2)
  })
})
