import type { Column, ColumnNote, MissingValue } from './columns/column.ts'
import { interpolated } from './interpolate.ts'
import type { MotionTable } from './motionTable.ts'

/** A column of a data table: a quantity of a body, or picture coordinates of its marks. */
export interface DataColumn {
  body: string
  /** Id of a quantity, or one of PICTURE_COLUMNS. */
  id: string
  symbol: string
  subscript: string
  name: string
  unit: string
  /** One a row of the data table; NaN where there is none. */
  values: Float64Array
  errors: Float64Array
  /** What it still needs, and what there is to know about it; see `Column`. */
  missing: MissingValue | null
  notes: readonly ColumnNote[]
}

/** Rows of one or several bodies side by side: at the frames in which any of them has a mark, or evenly spaced in time. */
export interface DataTable {
  /** Frame of each row; of an evenly spaced row the one before it. */
  frames: number[]
  /** Last frame of each row: another one where a body rests. */
  until: number[]
  times: number[]
  /** Whether rows lie between marks, so that their values are interpolated. */
  isInterpolated: boolean
  columns: DataColumn[]
}

/** Columns of the marks' picture coordinates. */
export const PICTURE_COLUMNS = ['picture-x', 'picture-y'] as const

/** What a quantity is called: given by who knows those that somebody has defined. */
export type NameOf = (quantity: string) => { symbol: string; subscript: string; name: string }

/** Upper limit of interpolated rows. */
export const MOST_ROWS = 100_000

/**
 * Lays columns of several bodies side by side.
 *
 * @param chosen bodies with their tables and the columns that are wanted of each
 * @param even seconds from and to, and how many rows, where they are to be evenly spaced instead of at the frames
 */
export function dataTable(
  chosen: { table: MotionTable; columns: readonly string[] }[],
  nameOf: NameOf,
  even: { from: number; to: number; count: number } | null = null,
): DataTable {
  const rows = even ? evenRows(chosen, even) : rowsByFrame(chosen)
  const columns = chosen.flatMap(({ table, columns: ids }) =>
    ids.map((id): DataColumn => {
      const [source, info] = sourceOf(table, id, nameOf)
      const { values, errors } = even
        ? interpolated(table, source, rows.times)
        : inRows(table, source, rows.frames)
      return {
        body: table.body,
        id,
        ...info,
        unit: source.unit,
        values,
        errors,
        missing: source.missing,
        notes: source.notes,
      }
    }),
  )
  return { ...rows, isInterpolated: even !== null, columns }
}

function sourceOf(table: MotionTable, id: string, nameOf: NameOf): [Column, ReturnType<NameOf>] {
  const along = id === 'picture-x' ? 'x' : id === 'picture-y' ? 'y' : null
  if (along === null) return [table.column(id), nameOf(id)]
  // A mark is known as well in the picture as its error says; here only where it is counts.
  const plain = table.column(along)
  const column = {
    ...plain,
    unit: 'px',
    values: table.picture[along],
    errors: new Float64Array(table.frames.length).fill(Number.NaN),
    sensitivity: () => {},
  }
  return [column, { symbol: along, subscript: 'mark', name: `Mark in the picture, ${along}` }]
}

type Rows = Pick<DataTable, 'frames' | 'until' | 'times'>

function rowsByFrame(chosen: { table: MotionTable }[]): Rows {
  const known = new Map<number, { until: number; time: number }>()
  for (const { table } of chosen)
    table.frames.forEach((frame, row) => {
      if (!known.has(frame)) known.set(frame, { until: table.until[row], time: table.times[row] })
    })
  const frames = [...known.keys()].sort((a, b) => a - b)
  return {
    frames,
    until: frames.map((frame) => known.get(frame)!.until),
    times: frames.map((frame) => known.get(frame)!.time),
  }
}

function evenRows(
  chosen: { table: MotionTable }[],
  { from, to, count }: { from: number; to: number; count: number },
): Rows {
  const rows = Math.min(MOST_ROWS, Math.max(2, Math.round(count)))
  const times = Array.from({ length: rows }, (_, i) => from + ((to - from) * i) / (rows - 1))
  const table = chosen[0]?.table
  const frames = times.map((time) => {
    const before = table ? table.times.findLastIndex((at) => at <= time + 1e-12) : -1
    return before >= 0 ? table.frames[before] : (table?.frames[0] ?? 0)
  })
  return { frames, until: frames, times }
}

function inRows(table: MotionTable, { values, errors }: Column, frames: number[]) {
  const rowOf = new Map(table.frames.map((frame, row) => [frame, row]))
  const picked = (numbers: Float64Array) =>
    Float64Array.from(frames, (frame) => numbers[rowOf.get(frame) ?? -1] ?? Number.NaN)
  return { values: picked(values), errors: picked(errors) }
}
