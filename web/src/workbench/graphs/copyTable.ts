import { delimited, htmlTable } from '@apokinema/core/formats'
import type { DataTable } from '@apokinema/core/motion'
import { notify } from '../../common/messages.tsx'

/** Names of bodies by id. */
type Names = Readonly<Record<string, string>>

/** Returns the rows of a table between two frames, both included; all rows if none are selected. */
export function pickedRows(table: DataTable, rows: { from: number; to: number } | null): DataTable {
  if (!rows || rows.from === rows.to || table.isInterpolated) return table
  const picked = table.frames.flatMap((frame, row) => (frame >= rows.from && frame <= rows.to ? [row] : []))
  const some = (values: Float64Array) => Float64Array.from(picked, (row) => values[row])
  return {
    ...table,
    frames: picked.map((row) => table.frames[row]),
    until: picked.map((row) => table.until[row]),
    times: picked.map((row) => table.times[row]),
    columns: table.columns.map((column) => ({
      ...column,
      values: some(column.values),
      errors: some(column.errors),
    })),
  }
}

/** Copies a table, as cells for a spreadsheet and as a table for a document. */
export async function copyTable(table: DataTable, names: Names, rounded: boolean): Promise<void> {
  const text = delimited(table, names, {
    separator: '\t',
    decimalComma: false,
    byteOrderMark: false,
    errors: false,
    rounded,
  })
  const html = htmlTable(table, names, rounded)
  try {
    await navigator.clipboard.write([
      new ClipboardItem({
        'text/plain': new Blob([text], { type: 'text/plain' }),
        'text/html': new Blob([html], { type: 'text/html' }),
      }),
    ])
    notify(
      `${table.frames.length === 1 ? 'One row is' : `${table.frames.length} rows are`} on the clipboard.`,
    )
  } catch {
    notify('This browser does not let pages use the clipboard here. Export a file instead.')
  }
}
