import type { Estimate } from './estimate.ts'
import type { Reading, ReadingSensitivity } from './fitResult.ts'

/** A reading compared with an expected value. */
export interface Comparison {
  expected: number
  /** Standard error of the expected value; 0 if exact. */
  expectedError: number
  /** |Difference| relative to the expected value, in percent; null if that is 0. */
  percent: number | null
  /** |Difference| in combined standard errors; null if the error is 0. */
  standardErrors: number | null
  /** True if the signs differ and absolute values were compared: the expected value disregards the direction of the axes. */
  bySize: boolean
}

/** Compares a reading with an expected value in the same unit. */
export function compare(reading: Estimate, expected: number, expectedError = 0): Comparison {
  const bySize = reading.value * expected < 0
  const difference = bySize
    ? Math.abs(Math.abs(reading.value) - Math.abs(expected))
    : Math.abs(reading.value - expected)
  const error = Math.hypot(reading.error, expectedError)
  return {
    expected,
    expectedError,
    bySize,
    percent: expected === 0 ? null : (100 * difference) / Math.abs(expected),
    standardErrors: error > 0 ? difference / error : null,
  }
}

/** Number of combined standard errors above which a reading misses the expected value. */
const MISSED = 2

/** Returns true if a reading misses the expected value. */
export function isMissed(reading: Estimate, expected: { value: number; error: number }): boolean {
  return (compare(reading, expected.value, expected.error).standardErrors ?? 0) > MISSED
}

/** Returns the covariance of two readings from their sensitivities to common errors: marks, scale, clock and others. */
export function covarianceOf(a: ReadingSensitivity, b: ReadingSensitivity): number {
  let sum = a.marks.productWith(b.marks)
  for (const [key, { by }] of a.common) sum += by * (b.common.get(key)?.by ?? 0)
  return sum
}

/** Two readings compared with each other. */
export interface PairComparison {
  /** |Difference| relative to the mean absolute value, in percent; null if both are 0. */
  percent: number | null
  /** |Difference| in standard errors of the difference; null if that error is 0. */
  standardErrors: number | null
  /** The difference and its standard error, with the covariance taken into account. */
  difference: number
  error: number
  /** Correlation coefficient of the two readings. */
  correlation: number
}

/**
 * Compares a reading with `factor` times another one, in the same unit. Errors that both share (marks, scale) are not counted
 * twice.
 */
export function comparePair(a: Reading, b: Reading, factor = 1): PairComparison {
  const difference = a.value - factor * b.value
  const covariance = factor * covarianceOf(a.sensitivity(), b.sensitivity())
  const variance = a.error ** 2 + (factor * b.error) ** 2 - 2 * covariance
  const error = Math.sqrt(Math.max(0, variance))
  const mean = (Math.abs(a.value) + Math.abs(factor * b.value)) / 2
  return {
    difference,
    error,
    percent: mean > 0 ? (100 * Math.abs(difference)) / mean : null,
    standardErrors: error > 0 ? Math.abs(difference) / error : null,
    correlation: covariance / (a.error * Math.abs(factor) * b.error),
  }
}
