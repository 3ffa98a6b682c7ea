import { analyse } from '@apokinema/core/analysis'
import { bodyNames, type Investigation } from '@apokinema/core/investigation'
import { type DataTable, dataTable } from '@apokinema/core/motion'
import { fixed, rounded, significant } from '@apokinema/core/units'
import { type Content, missing, type Shown, type ShownTable, symbolRuns, textRun } from './shown.ts'

/** Shows chosen columns of the bodies' tables, all rows or evenly spaced ones. */
export function shownTable(document: Investigation, label: string, block: Content<'table'>): Shown {
  const bodies = block.bodies.filter((body) => document.bodies[body])
  const columns = block.columns.filter(
    (column) => column.startsWith('picture-') || analyse(document).quantity(column) !== null,
  )
  if (bodies.length === 0 || columns.length === 0) return missing('table')
  const tables = bodies.map((body) => ({ table: analyse(document).shownTable(body), columns }))
  const times = tables.flatMap(({ table }) => [...table.times])
  const even =
    block.rows !== null && times.length > 0
      ? { from: Math.min(...times), to: Math.max(...times), count: block.rows }
      : null
  const data = dataTable(tables, (quantity) => analyse(document).quantity(quantity)!, even)
  const names = bodies.map((body) => document.bodies[body].name)
  return {
    kind: 'table',
    label: label,
    caption:
      block.caption ?? `Motion of ${names.join(' and ')}${even ? ', interpolated between the marks' : ''}.`,
    ...tableTexts(data, block, bodies.length > 1 ? bodyNames(document.bodies) : null),
  }
}
/** Returns a data table as texts: a column with errors is followed by one of them. */
function tableTexts(
  { times, columns }: DataTable,
  { rounded: isRounded, errors: hasErrors }: { rounded: boolean; errors: boolean },
  names: Record<string, string> | null,
): ShownTable {
  const head = columns.flatMap(({ body, symbol, subscript, unit }) => {
    const name = symbolRuns(symbol, subscript)
    const whole = [
      ...(names ? [textRun(`${names[body]}: `)] : []),
      ...name,
      ...(unit ? [textRun(` (${unit})`)] : []),
    ]
    return hasErrors ? [whole, [textRun('± '), ...name]] : [whole]
  })
  const number = (value: number, error: number) =>
    Number.isNaN(value) ? '' : isRounded ? rounded(value, error) : significant(value, 6)
  const rows = times.map((time, row) => [
    fixed(time, 4),
    ...columns.flatMap(({ values, errors }) => {
      const value = number(values[row], errors[row])
      return hasErrors ? [value, errors[row] > 0 ? rounded(errors[row], errors[row]) : ''] : [value]
    }),
  ])
  return { head: [[...symbolRuns('t', ''), textRun(' (s)')], ...head], rows }
}
