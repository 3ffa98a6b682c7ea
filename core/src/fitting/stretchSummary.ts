import { ErrorSensitivity, type MotionTable, pointsIn, type Range } from '../motion/index.ts'

/** A value and the standard error that the marks give it. */
export interface SummaryValue {
  value: number
  error: number
}

/** What a stretch of a graph says at a glance. NaN where there are too few points. */
export interface StretchSummary {
  points: number
  /** Mean of the values. */
  mean: SummaryValue
  /** Last value less the first. */
  change: SummaryValue
  /** Slope of the least-squares line, per second. */
  slope: SummaryValue
}

/**
 * Sums up the points of a column between two frames, both included. Each of the three is a weighed sum of the values,
 * and so of the marks behind them: values that share marks are not taken for independent.
 */
export function stretchSummary(table: MotionTable, quantity: string, range: Range): StretchSummary {
  const column = table.column(quantity)
  const picked = pointsIn(table, column, range)
  const times = picked.map((i) => table.times[column.rows[i]])
  const values = picked.map((i) => column.values[column.rows[i]])
  const count = picked.length
  const weightedSum = (weights: number[] | null): SummaryValue => {
    if (!weights) return { value: Number.NaN, error: Number.NaN }
    const sensitivity = new ErrorSensitivity()
    weights.forEach((weight, i) => {
      column.addSensitivity(picked[i], weight, sensitivity)
    })
    return {
      value: weights.reduce((sum, weight, i) => sum + weight * values[i], 0),
      error: sensitivity.size(),
    }
  }
  const middle = times.reduce((sum, time) => sum + time / count, 0)
  const spread = times.reduce((sum, time) => sum + (time - middle) ** 2, 0)
  const isMoving = spread > 0
  return {
    points: count,
    mean: weightedSum(count > 0 ? times.map(() => 1 / count) : null),
    change: weightedSum(
      count > 0 ? times.map((_, i) => (i === count - 1 ? 1 : 0) - (i === 0 ? 1 : 0)) : null,
    ),
    slope: weightedSum(isMoving ? times.map((time) => (time - middle) / spread) : null),
  }
}
