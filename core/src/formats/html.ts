import type { DataTable } from '../motion/index.ts'
import { fixed } from '../units/index.ts'
import { headOf, written } from './csv.ts'

const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' }
const escaped = (text: string) => text.replace(/[&<>"]/g, (sign) => ESCAPES[sign])

/**
 * Returns a data table as HTML, which pastes into documents as a table. Several bodies have a header row of their
 * own.
 */
export function htmlTable(
  table: DataTable,
  names: Readonly<Record<string, string>>,
  isRounded: boolean,
): string {
  const isOne = new Set(table.columns.map(({ body }) => body)).size < 2
  const cells = (tag: 'th' | 'td', texts: string[]) =>
    texts.map((text) => `<${tag}>${escaped(text)}</${tag}>`).join('')
  const heads = table.columns.map((column) => headOf(column, isOne ? null : (names[column.body] ?? '')))
  const rows = table.frames.map((frame, row) =>
    cells('td', [
      table.isInterpolated ? '' : String(frame),
      isRounded ? fixed(table.times[row], 4) : String(table.times[row]),
      ...table.columns.map(({ values, errors }) => written(values[row], errors[row], isRounded)),
    ]),
  )
  return `<table><thead><tr>${cells('th', ['frame', 't (s)', ...heads])}</tr></thead><tbody>${rows
    .map((row) => `<tr>${row}</tr>`)
    .join('')}</tbody></table>`
}
