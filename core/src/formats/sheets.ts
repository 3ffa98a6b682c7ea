import type { Investigation } from '../investigation/index.ts'
import type { DataTable } from '../motion/index.ts'
import { hasErrors, headOf } from './csv.ts'

/** A cell of a spreadsheet: numbers stay numbers, and texts are no formulas whatever they begin with. */
export type Cell = number | string | null

/** A sheet of a workbook. */
export interface Sheet {
  name: string
  rows: Cell[][]
}

const number = (value: number): Cell => (Number.isFinite(value) ? value : null)

/** Returns a data table as a sheet of numbers with their standard errors: a row per time, after a row of headings. */
export function motionSheet(investigation: Investigation, table: DataTable): Sheet {
  const { bodies } = investigation
  const isOne = new Set(table.columns.map(({ body }) => body)).size < 2
  const columns = table.columns.map((column) => ({ column, withErrors: hasErrors(column) }))
  const heads = columns.flatMap(({ column, withErrors }) => {
    const head = headOf(column, isOne ? null : (bodies[column.body]?.name ?? ''))
    return withErrors ? [head, `± (${column.unit})`] : [head]
  })
  const rows = table.frames.map((frame, row) => [
    table.isInterpolated ? null : frame,
    number(table.times[row]),
    ...columns.flatMap(({ column, withErrors }) =>
      withErrors ? [number(column.values[row]), number(column.errors[row])] : [number(column.values[row])],
    ),
  ])
  return { name: 'Motion', rows: [['frame', 't (s)', ...heads], ...rows] }
}
