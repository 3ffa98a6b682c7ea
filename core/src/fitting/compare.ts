import type { Estimate } from './estimate.ts'
import type { Reading, ReadingSensitivity } from './fitColumn.ts'

/** A reading beside an expected value. */
export interface Comparison {
  expected: number
  /** Standard error of what is expected; 0 where it is taken to be exact. */
  expectedError: number
  /** Difference over the expected value's size, in percent; null where that is 0. */
  percent: number | null
  /** Difference in combined standard errors; null where there is none. */
  standardErrors: number | null
  /** The signs differ, so sizes were compared: the expected value was given without regard to the axes' direction. */
  bySize: boolean
}

/** Compares a reading with an expected value in the same unit, with its standard error. */
export function compare(reading: Estimate, expected: number, expectedError = 0): Comparison {
  const bySize = reading.value * expected < 0
  const difference = bySize
    ? Math.abs(Math.abs(reading.value) - Math.abs(expected))
    : Math.abs(reading.value - expected)
  const error = Math.hypot(reading.error, expectedError)
  return {
    ...{ expected, expectedError, bySize },
    percent: expected === 0 ? null : (100 * difference) / Math.abs(expected),
    standardErrors: error > 0 ? difference / error : null,
  }
}

/** Covariance of two readings, from how they go with errors: the marks', the scale's, the clock's and whatever else both rest on. */
export function covarianceOf(a: ReadingSensitivity, b: ReadingSensitivity): number {
  let sum = a.marks.productWith(b.marks)
  for (const [key, { by }] of a.common) sum += by * (b.common.get(key)?.by ?? 0)
  return sum
}

/** Two readings beside each other. */
export interface PairComparison {
  /** Difference over the mean of both sizes, in percent; null where both are 0. */
  percent: number | null
  /** Difference in its own standard errors, which know what both have in common; null where there is none. */
  standardErrors: number | null
  /** The difference and its standard error. */
  difference: number
  error: number
  /** Correlation of the two. */
  correlation: number
}

/**
 * Compares a reading with a number of times another one, in the same unit. Where both rest on the same marks or on the
 * same scale, their errors are not counted twice.
 */
export function comparePair(a: Reading, b: Reading, factor = 1): PairComparison {
  const difference = a.value - factor * b.value
  const covariance = factor * covarianceOf(a.sensitivity(), b.sensitivity())
  const variance = a.error ** 2 + (factor * b.error) ** 2 - 2 * covariance
  const error = Math.sqrt(Math.max(0, variance))
  const mean = (Math.abs(a.value) + Math.abs(factor * b.value)) / 2
  return {
    ...{ difference, error },
    percent: mean > 0 ? (100 * Math.abs(difference)) / mean : null,
    standardErrors: error > 0 ? Math.abs(difference) / error : null,
    correlation: covariance / (a.error * Math.abs(factor) * b.error),
  }
}
