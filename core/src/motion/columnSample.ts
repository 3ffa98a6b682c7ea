import {
  fitPolynomial,
  type LinearMap,
  linearMapWhitening,
  type PolynomialFit,
  pickRows,
} from '../regression/index.ts'
import type { Column } from './columns/column.ts'
import type { Scatter } from './derivatives/index.ts'
import type { MotionTable } from './motionTable.ts'

/** A range of frames, both ends included, with exceptions. */
export interface Range {
  from: number
  to: number
  without?: Readonly<Record<string, true>>
}

/** Returns the indices of a column's points that lie in a range. */
export function pointsIn(table: MotionTable, { rows }: Column, { from, to, without = {} }: Range): number[] {
  const found: number[] = []
  for (let i = 0; i < rows.length; i++) {
    const frame = table.frames[rows[i]]
    if (frame >= from && frame <= to && !without[frame]) found.push(i)
  }
  return found
}

/** The points of one column in a range, as input of a fit. */
export interface ColumnSample {
  /** Rows of the table. */
  rows: number[]
  /** Which of the column's places each is, where there is no map. */
  places: number[]
  times: number[]
  values: number[]
  /** How the values come from the numbers of all places; null where they are those, or follow from more than one. */
  map: LinearMap | null
  /**
   * Returns the least-squares polynomial of a degree through them, with errors that know which values share marks.
   *
   * @throws FitError where they can't carry it
   */
  fit(degree: number): PolynomialFit
}

/** Returns the points of a column in a range. */
export function columnSample(table: MotionTable, quantity: string, range: Range): ColumnSample {
  const column = table.column(quantity)
  const picked = pointsIn(table, column, range)
  const rows = picked.map((i) => column.rows[i])
  const map = column.map && rows.length > 0 ? pickRows(column.map, picked) : null
  const times = rows.map((row) => table.times[row])
  const values = rows.map((row) => column.values[row])
  const { scatter } = column
  return {
    rows,
    places: picked,
    times,
    values,
    map,
    fit: (degree) =>
      map && scatter
        ? propagateCovariance(fitPolynomial(times, values, degree), map, scatter)
        : fitPolynomial(times, values, degree, map ? linearMapWhitening(map) : undefined),
  }
}

/**
 * Returns a fit to values that have next to no freedom of their own left, as a smooth curve's: it is told by ordinary least
 * squares, and its covariance is what the positions' scatter, told by the curve, makes of it through their map.
 */
function propagateCovariance(
  fit: PolynomialFit,
  map: LinearMap,
  { variance, freedom }: Scatter,
): PolynomialFit {
  const count = map.start.reduce(
    (most, start, row) => Math.max(most, start + map.coefficients[row].length),
    0,
  )
  const onMarks = Array.from(fit.coefficients, () => new Float64Array(count))
  const unit = new Float64Array(map.start.length)
  map.start.forEach((start, row) => {
    unit[row] = 1
    const moved = fit.parameterShift(unit)
    unit[row] = 0
    map.coefficients[row].forEach((coefficient, k) => {
      for (let a = 0; a < moved.length; a++) onMarks[a][start + k] += moved[a] * coefficient
    })
  })
  const product = (a: Float64Array, b: Float64Array) => a.reduce((sum, value, k) => sum + value * b[k], 0)
  const covariance = onMarks.map((a) => Float64Array.from(onMarks, (b) => variance * product(a, b)))
  return { ...fit, covariance, freedom, scatter: Math.sqrt(variance) }
}
