import Papa from 'papaparse'
import type { DataColumn, DataTable } from '../motion/index.ts'
import { rounded } from '../units/index.ts'

/** How a table is written as text. */
export interface DelimitedOptions {
  separator: ',' | ';' | '\t'
  /** Whether numbers have a comma in place of the decimal point: not with commas between fields. */
  decimalComma: boolean
  /** Whether a byte-order mark stands first, which tells some spreadsheets that it is UTF-8. */
  byteOrderMark: boolean
  /** Whether each quantity is followed by a column of its standard errors. */
  errors: boolean
  /** Whether numbers are rounded to two digits of their error; otherwise all digits are written. */
  rounded: boolean
}

/** Returns a text that does not begin a formula when a spreadsheet opens the file. */
export function harmless(text: string): string {
  return /^[=+\-@\t\r]/.test(text) ? `'${text}` : text
}

/** Returns what stands above a column, by plain signs: "Net float: vy (m/s)". */
export function headOf({ id, symbol, unit }: DataColumn, body: string | null): string {
  const plain = id.startsWith('picture-') ? `picture ${id.slice(8)}` : id.length > 20 ? symbol : id
  return `${body === null ? '' : `${body}: `}${plain}${unit ? ` (${unit})` : ''}`
}

/** Returns a value for machines: all digits, or those that its error justifies; empty for NaN. */
export function written(value: number, error: number, isRounded: boolean, decimalComma = false): string {
  if (!Number.isFinite(value)) return ''
  const plain = isRounded ? plainDigits(rounded(value, error), value, error) : String(value)
  return decimalComma ? plain.replace('.', ',') : plain
}

/** Returns what is shown with a true minus and powers of ten, for machines. */
function plainDigits(shown: string, value: number, error: number): string {
  const plain = shown.replace('−', '-')
  return Number.isFinite(Number(plain)) ? plain : value.toPrecision(error > 0 ? 6 : 4)
}

/**
 * Returns a data table as text, a line a row (RFC 4180: lines end in CRLF): frame and time, then every quantity with its unit
 * above it, an empty field where there is no value.
 *
 * @param names of the bodies, by id; nothing is put before a quantity where there is only one body
 */
export function delimited(
  table: DataTable,
  names: Readonly<Record<string, string>>,
  { separator, decimalComma, byteOrderMark, errors, rounded: isRounded }: DelimitedOptions,
): string {
  const comma = decimalComma && separator !== ','
  const isOne = new Set(table.columns.map(({ body }) => body)).size < 2
  // Asked once a column: it goes through all rows.
  const columns = table.columns.map((column) => ({ column, withErrors: errors && hasErrors(column) }))
  const heads = columns.flatMap(({ column, withErrors }) => {
    const head = headOf(column, isOne ? null : (names[column.body] ?? ''))
    return withErrors ? [head, `${head.replace(/ \([^)]*\)$/, '')} error${unitOf(column)}`] : [head]
  })
  const lines = [['frame', 't (s)', ...heads].map(harmless)]
  for (let row = 0; row < table.frames.length; row++) {
    const cells = columns.flatMap(({ column, withErrors }) => {
      const [value, error] = [column.values[row], column.errors[row]]
      const one = written(value, error, isRounded, comma)
      return withErrors ? [one, written(error, error, isRounded, comma)] : [one]
    })
    const frame = table.isInterpolated ? '' : String(table.frames[row])
    lines.push([frame, written(table.times[row], 0, false, comma), ...cells])
  }
  return `${byteOrderMark ? '\uFEFF' : ''}${Papa.unparse(lines, { delimiter: separator, newline: '\r\n' })}\r\n`
}

const unitOf = ({ unit }: DataColumn) => (unit ? ` (${unit})` : '')

/** Returns true if a column has standard errors. */
export function hasErrors({ errors }: DataColumn): boolean {
  return errors.some((error) => error > 0)
}
