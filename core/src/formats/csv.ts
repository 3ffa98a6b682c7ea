import type { Investigation } from '../investigation/index.ts'
import { type MotionTable, QUANTITIES } from '../motion/index.ts'


/** Every column in the order in which it is written, as it is offered. */
export const CSV_COLUMNS: { id: string; name: string }[] = [
  { id: 'frame', name: 'frame' },
  { id: 't', name: 't, time' },
  { id: 'picture-x', name: 'mark in the picture, x in px' },
  { id: 'picture-y', name: 'mark in the picture, y in px' },
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

function header(table: MotionTable, id: string): string {
  switch (id) {
    case 'frame':
      return 'frame'
    case 't':
      return 't (s)'
    case 'picture-x':
      return 'picture x (px)'
    case 'picture-y':
      return 'picture y (px)'
    default:
      return `${id} (${table.column(id).unit})`
  }
}

function cell(table: MotionTable, id: string, row: number): string {
  const own: Record<string, () => number> = {
    frame: () => table.frames[row],
    t: () => table.times[row],
    'picture-x': () => table.picture.x[row],
    'picture-y': () => table.picture.y[row],
  }
  const number = own[id]?.() ?? table.column(id).values[row]
  return Number.isFinite(number) ? String(number) : ''
}

/**
 * The motion table as CSV (RFC 4180, lines end in CRLF): header names with units, every number with
 * all its digits, an empty field where a quantity has no value. With `body`, each header begins with its name.
 */
export function motionCsv(table: MotionTable, columns: string[], body?: string): string {
  const name = (id: string) => {
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
