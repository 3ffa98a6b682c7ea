import type { QuantityId } from '../investigation/index.ts'
import { columnSample, type MotionTable } from '../motion/index.ts'
import { fitPolynomial } from '../regression/index.ts'

/** What a stretch of a graph says at a glance. NaN where there are too few points. */
export interface StretchSummary {
  points: number
  /** Mean of the values. */
  mean: number
  /** Last value less the first. */
  change: number
  /** Slope of the least-squares line, per second. */
  slope: number
}

/** Sums up the points of a column between two frames, both included. */
export function stretchSummary(
  table: MotionTable,
  quantity: QuantityId,
  range: { from: number; to: number },
): StretchSummary {
  const { rows, times, values } = columnSample(table, quantity, range)
  return {
    points: rows.length,
    mean: rows.length ? values.reduce((sum, value) => sum + value, 0) / rows.length : Number.NaN,
    change: rows.length ? values[values.length - 1] - values[0] : Number.NaN,
    slope: rows.length > 1 ? fitPolynomial(times, values, 1).coefficients[1] : Number.NaN,
  }
}
