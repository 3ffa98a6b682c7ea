import type { QuantityId } from '../investigation/index.ts'
import { type LinearMap, pickRows, type Whiten, whitening } from '../regression/index.ts'
import type { MotionTable } from './motionTable.ts'

/** The points of one column between two frames, as a fit takes them. */
export interface ColumnSample {
  /** Rows of the table. */
  rows: number[]
  times: number[]
  values: number[]
  /** How the values come from the marked positions of all rows; null where they are those. */
  map: LinearMap | null
  /**
   * Makes values uncorrelated that share marks; undefined where they share none.
   *
   * @throws FitError where they depend on each other too closely to be fitted
   */
  whitening(): Whiten | undefined
}

/** Takes the points of a column between two frames, both included. */
export function columnSample(
  table: MotionTable,
  quantity: QuantityId,
  { from, to }: { from: number; to: number },
): ColumnSample {
  const column = table.columns[quantity]
  const rows = column.rows.filter((row) => table.frames[row] >= from && table.frames[row] <= to)
  const first = column.rows[0]
  const map =
    column.map && rows.length > 0
      ? pickRows(
          column.map,
          rows.map((row) => row - first),
        )
      : null
  return {
    rows,
    times: rows.map((row) => table.times[row]),
    values: rows.map((row) => column.values[row]),
    map,
    whitening: () => (map ? whitening(map) : undefined),
  }
}
