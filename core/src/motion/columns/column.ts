import type { Derivation } from '../../investigation/index.ts'
import type { LinearMap } from '../../regression/index.ts'
import { CALIBRATION_PARAMETERS, type CalibrationParameter } from '../../scene/index.ts'
import type { Dimension } from '../../units/index.ts'
import type { ExpressionProblem } from '../custom/expressionError.ts'
import type { Scatter } from '../derivatives/index.ts'
import type { ErrorSensitivity } from '../errorSensitivity.ts'
import type { Need, PositionQuantity, QuantityInfo } from '../quantities/index.ts'

/** The values of a position quantity (such as x) of n marks, from which derivatives are computed. */
export interface PositionColumn {
  quantity: PositionQuantity
  /** Rows of the table that have a value, increasing; length n. */
  rows: number[]
  values: Float64Array
  /** Standard errors. */
  errors: Float64Array
  /** Gradient of each value: by x and y of the mark in the scene, and by x and y of the second point where it counts. */
  gradients: (readonly number[])[]
  /** Frame of each row. */
  frames: number[]
  /** Correlation of the errors of marks in neighbouring frames. */
  correlation: number
  /** Change of each value where its mark moves by a pixel; null where no mark was followed. */
  perPixel: Float64Array | null
  /** Returns the map from independent errors of unit variance to the errors of `values`. */
  errorMap: () => LinearMap
}

/** Something to know about a column's values; `columns.ts` in `words` has the sentences. */
export type ColumnNote =
  /** They are derived in this way, and not across breaks and gaps. */
  | { code: 'derived'; derivation: Derivation }
  /** So many rows have no value: division by zero. */
  | { code: 'division-by-zero'; rows: number }

/** What a person has to provide before a column has values; `columns.ts` in `words` has the sentences. */
export type MissingValue = { code: Need } | { code: 'definition'; problem: ExpressionProblem }

/** One quantity of one body; arrays have one element per row of the table unless stated otherwise. */
export interface Column {
  quantity: string
  info: QuantityInfo
  dimension: Dimension
  unit: string
  /** NaN where the quantity has no value. */
  values: Float64Array
  /** Standard error due to the marks; NaN where there is no value. */
  errors: Float64Array
  /** Rows of the table that have a value, increasing; length n. */
  rows: number[]
  /** The positions that the values are, or are derived from; null if they follow from more than one position column. */
  position: PositionColumn | null
  /** Map from the positions to the n values; null if they are the positions, or follow from more than one column. */
  map: LinearMap | null
  /** Variance of the positions about a smooth curve, if the derivation estimates it; null otherwise. */
  scatter: Scatter | null
  notes: readonly ColumnNote[]
  /** What a person has to provide before the column has values; null if nothing is missing. */
  missing: MissingValue | null
  /** Returns an upper bound of the bias of each value by smoothing (lazy); NaN if unknown, 0 if not derived. */
  bias: () => Float64Array
  /** Adds `factor` × ∂value[rows[i]]/∂error for every error of the marks and every stated value, in the column's unit. */
  addSensitivity: (i: number, factor: number, into: ErrorSensitivity) => void
  /** Returns ∂value/∂parameter for a parameter of the calibration (lazy); NaN where there is no value. */
  calibrationSensitivities: CalibrationSensitivities
}

export type CalibrationSensitivities = Record<CalibrationParameter, () => Float64Array>

/** Returns a record with one entry per calibration parameter. */
export const perParameter = <T>(make: (parameter: CalibrationParameter) => T) =>
  Object.fromEntries(CALIBRATION_PARAMETERS.map((parameter) => [parameter, make(parameter)])) as Record<
    CalibrationParameter,
    T
  >

/** Times (s) of the rows of a table. */
export interface RowTimes {
  /** Beginning and end of each row: different only for a rest. */
  from: Float64Array
  to: Float64Array
  /** Middle of each row. */
  times: Float64Array
  /** Rows before which the motion breaks. */
  breaks: ReadonlySet<number>
}

/** Returns a function that calls `make` once and then returns the same value. */
export function once<T>(make: () => T): () => T {
  let made: { value: T } | null = null
  return () => {
    made ??= { value: make() }
    return made.value
  }
}
