import { describe, expect, it } from 'vitest'
import { differenceOf, type TrialValue, totalError } from './index.ts'

const value = (of: number, own: number, shared: Record<string, number>): TrialValue => ({
  value: of,
  own,
  shared: new Map(
    Object.entries(shared).map(([key, by]) => [
      key,
      { source: 'length' as const, by, freedom: Number.POSITIVE_INFINITY },
    ]),
  ),
})

describe('the difference of two trials', () => {
  it('has the errors of both, but for what they share with the same effect', () => {
    const difference = differenceOf(value(9.7, 0.03, { ruler: 0.05 }), value(9.9, 0.04, { ruler: 0.05 }))
    expect(difference.value).toBeCloseTo(0.2, 12)
    expect(totalError(difference)).toBeCloseTo(0.05, 12)
  })

  it('has what is left of a shared error with another effect, and the whole of one that only one has', () => {
    const difference = differenceOf(
      value(1, 0, { ruler: 0.02, clock: 0.03 }),
      value(2, 0, { ruler: 0.06, axes: 0.05 }),
    )
    expect(totalError(difference)).toBeCloseTo(Math.hypot(0.04, 0.03, 0.05), 12)
  })
})
