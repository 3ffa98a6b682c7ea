import type { Cell, Sheet } from '@apokinema/core/formats'
import writeExcelFile from 'write-excel-file/browser'

const cellOf = (cell: Cell, isHead: boolean) =>
  cell === null
    ? null
    : typeof cell === 'number'
      ? { type: Number, value: cell }
      : { type: String, value: cell, ...(isHead && { fontWeight: 'bold' as const }) }

/** Returns a workbook of sheets. Numbers are written as numbers, and texts as texts, whatever they begin with. */
export async function workbook(sheets: Sheet[]): Promise<Blob> {
  return writeExcelFile(
    sheets.map(({ name, rows }) => ({
      sheet: name,
      data: rows.map((row, i) => row.map((cell) => cellOf(cell, i === 0))),
    })),
  ).toBlob()
}
