import { MOST_POINTS } from '../investigation/index.ts'

/** A table of numbers read from text. */
export interface ReadTable {
  /** What stands above the columns, or "column 1" and so on where nothing does. */
  heads: string[]
  /** Values by column; NaN where a field is no number. */
  columns: number[][]
  /** Rows that were left aside because more than `most` were there. */
  more: boolean
}

/** Returns a number as it may stand in a table: with a decimal comma where that is how the table writes them. */
function numberOf(field: string, decimalComma: boolean): number {
  const plain = decimalComma ? field.replace(/\./g, '').replace(',', '.') : field
  const text = plain.trim().replace('−', '-')
  return text === '' ? Number.NaN : Number(text)
}

/**
 * Makes a table of numbers of rows of fields: whether the first row names the columns, and whether decimals have a comma,
 * is told by the fields themselves. Rows with no number in them are passed over, and columns with none left out.
 *
 * @param separator that the fields stood between
 */
export function readTable(rows: readonly (readonly string[])[], separator: string): ReadTable {
  const wide = rows.reduce((most, row) => Math.max(most, row.length), 0)
  const sample = rows.slice(0, 200).flat()
  const hasComma = sample.filter((field) => /^\s*[-−+]?\d+,\d+\s*$/.test(field)).length
  const hasPoint = sample.filter((field) => /^\s*[-−+]?\d*\.\d+(e[-+]?\d+)?\s*$/i.test(field)).length
  const decimalComma = separator !== ',' && hasComma > hasPoint
  const isNumber = (field: string) => Number.isFinite(numberOf(field, decimalComma))
  const [first = []] = rows
  const hasHead = first.some((field) => field.trim() !== '') && !first.some(isNumber)
  const body = (hasHead ? rows.slice(1) : rows).filter((row) => row.some(isNumber))
  const kept = body.slice(0, MOST_POINTS)
  const all = Array.from({ length: wide }, (_, column) => ({
    head: (hasHead ? first[column]?.trim() : '') || `column ${column + 1}`,
    values: kept.map((row) => numberOf(row[column] ?? '', decimalComma)),
  })).filter(({ values }) => values.some(Number.isFinite))
  return {
    heads: all.map(({ head }) => head),
    columns: all.map(({ values }) => values),
    more: body.length > MOST_POINTS,
  }
}

/**
 * Returns a series of two columns of a table: rows in which both are numbers, in the order of their times; of rows of the same
 * time the mean.
 */
export function seriesOf(
  times: readonly number[],
  values: readonly number[],
): { times: number[]; values: number[] } {
  const points = times
    .map((time, i) => ({ time, value: values[i] }))
    .filter(({ time, value }) => Number.isFinite(time) && Number.isFinite(value))
    .sort((a, b) => a.time - b.time)
  const merged: { time: number; sum: number; count: number }[] = []
  for (const { time, value } of points) {
    const last = merged.at(-1)
    if (last && last.time === time) {
      last.sum += value
      last.count++
    } else merged.push({ time, sum: value, count: 1 })
  }
  return { times: merged.map(({ time }) => time), values: merged.map(({ sum, count }) => sum / count) }
}
