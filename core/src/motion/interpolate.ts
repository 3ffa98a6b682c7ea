import type { Column } from './columns/column.ts'
import { pickPoints, runsOf } from './derivatives/index.ts'
import { ErrorSensitivity } from './errorSensitivity.ts'
import type { MotionTable } from './motionTable.ts'

/** Points that a value between two of them is taken from. */
const POINTS = 4

/**
 * Interpolates a column at times between its points with the cubic through the four nearest points of the same run
 * (Lagrange; error of fourth order in the spacing), with standard errors. NaN outside of runs and across breaks.
 */
export function interpolated(
  table: MotionTable,
  column: Column,
  times: readonly number[],
): { values: Float64Array; errors: Float64Array } {
  const { rows } = column
  const runs = runsOf(pickPoints({ from: table.times, to: table.times, breaks: table.breaks }, rows))
  const values = new Float64Array(times.length).fill(Number.NaN)
  const errors = new Float64Array(times.length).fill(Number.NaN)
  const sensitivity = new ErrorSensitivity()
  times.forEach((time, i) => {
    const run = runs.find(({ times: own }) => own[0] <= time + NEAR && own[own.length - 1] >= time - NEAR)
    if (!run) return
    const { first, weights } = nearest(run.times, time)
    sensitivity.clear()
    values[i] = 0
    weights.forEach((weight, k) => {
      const point = run.first + first + k
      values[i] += weight * column.values[rows[point]]
      if (weight !== 0) column.addSensitivity(point, weight, sensitivity)
    })
    errors[i] = sensitivity.size()
  })
  return { values, errors }
}

/** Seconds by which a time may be off by rounding. */
const NEAR = 1e-9

/** Returns the points around a time, and what each counts for. */
function nearest(times: readonly number[], time: number): { first: number; weights: number[] } {
  const size = Math.min(POINTS, times.length)
  const after = times.findIndex((at) => at > time)
  const middle = after < 0 ? times.length : after
  const first = Math.min(Math.max(0, middle - (size >> 1)), times.length - size)
  const some = times.slice(first, first + size)
  const weights = some.map((own, k) =>
    some.reduce((product, other, m) => (m === k ? product : (product * (time - other)) / (own - other)), 1),
  )
  return { first, weights }
}
