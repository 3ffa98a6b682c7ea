import type { Estimate } from './estimate.ts'

/** A reading beside an expected value. */
export interface Comparison {
  expected: number
  /** Difference over the expected value's size, in percent; null where that is 0. */
  percent: number | null
  /** Difference in standard errors of the reading; null where it has none. */
  standardErrors: number | null
  /** The signs differ, so sizes were compared: the expected value was given without regard to the axes' direction. */
  bySize: boolean
}

/** Compares a reading with an expected value in the same unit. */
export function compare(reading: Estimate, expected: number): Comparison {
  const bySize = reading.value * expected < 0
  const difference = bySize
    ? Math.abs(Math.abs(reading.value) - Math.abs(expected))
    : Math.abs(reading.value - expected)
  return {
    expected,
    percent: expected === 0 ? null : (100 * difference) / Math.abs(expected),
    standardErrors: reading.error > 0 ? difference / reading.error : null,
    bySize,
  }
}
