import type { Investigation, QuantityId } from '../investigation/index.ts'
import { type MotionTable, QUANTITIES } from '../motion/index.ts'

/** A column that a motion table can be written with. */
export type CsvColumn = 'frame' | 't' | 'px' | 'py' | QuantityId

/** Every column in the order in which it is written, as it is offered. */
export const CSV_COLUMNS: { id: CsvColumn; name: string }[] = [
  { id: 'frame', name: 'frame' },
  { id: 't', name: 't, time' },
  { id: 'px', name: 'mark in the picture, x in px' },
  { id: 'py', name: 'mark in the picture, y in px' },
  ...Object.values(QUANTITIES).map(({ id, name }) => ({ id, name: `${id}, ${name.toLowerCase()}` })),
]

/** One field by RFC 4180: quoted where it holds a quote, a comma or a line break. */
function field(text: string): string {
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
}

/** A header's own text must not begin a formula when a spreadsheet opens the file. */
function harmless(text: string): string {
  return /^[=+\-@\t\r]/.test(text) ? `'${text}` : text
}

function header(table: MotionTable, id: CsvColumn): string {
  switch (id) {
    case 'frame':
      return 'frame'
    case 't':
      return 't (s)'
    case 'px':
      return 'picture x (px)'
    case 'py':
      return 'picture y (px)'
    default:
      return `${id} (${table.columns[id].unit})`
  }
}

function cell(table: MotionTable, id: CsvColumn, row: number): string {
  const value = {
    frame: () => table.frames[row],
    t: () => table.times[row],
    px: () => table.picture.x[row],
    py: () => table.picture.y[row],
  }[id as 'frame' | 't' | 'px' | 'py']
  const number = value ? value() : table.columns[id as QuantityId].values[row]
  return Number.isFinite(number) ? String(number) : ''
}

/**
 * The motion table as CSV (RFC 4180, lines end in CRLF): header names with units, every number with
 * all its digits, an empty field where a quantity has no value. With `body`, each header begins with its name.
 */
export function motionCsv(table: MotionTable, columns: CsvColumn[], body?: string): string {
  const name = (id: CsvColumn) => {
    const plain = header(table, id)
    return field(harmless(body && id !== 'frame' && id !== 't' ? `${body}: ${plain}` : plain))
  }
  const lines = [columns.map(name)]
  for (let row = 0; row < table.frames.length; row++) lines.push(columns.map((id) => cell(table, id, row)))
  return lines.map((line) => `${line.join(',')}\r\n`).join('')
}

/** A file name made from a title: letters, digits and a few signs of any script, nothing that a path could be made of. */
export function fileNameOf({ title }: Pick<Investigation, 'title'>, ending: string): string {
  const plain = title
    .replace(/[^\p{L}\p{N} ,_-]+/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 80)
  return `${plain || 'investigation'}.${ending}`
}
