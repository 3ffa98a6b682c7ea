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
  /** Makes values uncorrelated that share marks; undefined where they share none. */
  whitening(): Whiten | undefined
}

/** Takes the points of a column between two frames, both included. */
export function columnSample(
  table: MotionTable,
  quantity: QuantityId,
  { from, to }: { from: number; to: number },
): ColumnSample {
  const column = table.columns[quantity]
  const isIn = (row: number) => table.frames[row] >= from && table.frames[row] <= to
  const picked = column.rows.flatMap((row, i) => (isIn(row) ? [i] : []))
  const rows = picked.map((i) => column.rows[i])
  const map = column.map && rows.length > 0 ? pickRows(column.map, picked) : null
  return {
    rows,
    times: rows.map((row) => table.times[row]),
    values: rows.map((row) => column.values[row]),
    map,
    whitening: () => (map ? whitening(map) : undefined),
  }
}
