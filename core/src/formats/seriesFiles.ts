import Papa from 'papaparse'
import type { Estimate } from '../fitting/index.ts'
import {
  type SeriesAnalysis,
  type TableColumn,
  type TableTrial,
  type Cell as TrialCell,
  totalError,
} from '../series/index.ts'
import { harmless } from './csv.ts'
import type { Cell, Sheet } from './sheets.ts'

/** Version of the form in which tables of trials are written as JSON. */
const SERIES_JSON_VERSION = 1

/** Titles of investigations by their ids. */
type Titles = ReadonlyMap<string, string>

const headOf = ({ column, unit }: TableColumn) => `${column.name}${unit ? ` (${unit})` : ''}`

const number = (value: number): number | null => (Number.isFinite(value) ? value : null)

/** Returns the cells of a trial in a column: its word, or its number with its whole standard error. */
function cellsOf(cell: TrialCell, isWord: boolean): Cell[] {
  if (isWord) return [cell.kind === 'word' ? cell.word : null]
  return cell.kind === 'number' ? [number(cell.value.value), number(totalError(cell.value))] : [null, null]
}

const isWordColumn = ({ column }: TableColumn) => column.content.kind === 'word'

/** Returns the table of trials as a sheet: a row a trial in the order shown, each number followed by its standard error. */
export function seriesSheet({ table }: SeriesAnalysis, titles: Titles): Sheet {
  const heads = table.columns.flatMap((column) => {
    if (isWordColumn(column)) return [column.column.name]
    return [headOf(column), `± ${headOf(column)}`]
  })
  const rows = table
    .rows()
    .map(({ id, trial }) => [
      titles.get(id) ?? '',
      ...table.columns.flatMap((column) => cellsOf(table.cell(id, column.id), isWordColumn(column))),
      trial.leftOut,
    ])
  return { name: 'Trials', rows: [['trial', ...heads, 'left out because'], ...rows] }
}

/** Returns what the trials say as a sheet: means, parameters and readings of laws, calculations, each with its standard error and unit. */
export function resultsSheet(analysis: SeriesAnalysis): Sheet {
  const rows: Cell[][] = [['result', 'value', 'standard error', 'unit', 'n']]
  for (const {
    column: { column, unit },
    mean,
  } of analysis.table.means())
    rows.push([`mean of ${column.name}`, number(mean.mean.value), number(mean.mean.error), unit, mean.count])
  for (const { settings, fit, readings } of analysis.fits()) {
    const law = lawName(analysis, settings.graph)
    for (const { name, value, error, unit } of readings)
      rows.push([
        `${name} of ${law}`,
        number(value),
        number(error),
        unit,
        fit?.solution.whitenedResiduals.length ?? null,
      ])
  }
  for (const { calculation, result } of analysis.calculations())
    if (result)
      rows.push([
        calculation.name || calculation.symbol,
        number(result.value),
        number(result.error),
        result.unit,
        null,
      ])
  return { name: 'Results', rows }
}

/** Returns the table of trials as comma-separated text (RFC 4180), a line a trial, with all digits. */
export function seriesCsv(analysis: SeriesAnalysis, titles: Titles): string {
  const { rows } = seriesSheet(analysis, titles)
  const lines = rows.map((row) =>
    row.map((cell) => (typeof cell === 'string' ? harmless(cell) : (cell ?? ''))),
  )
  return `${Papa.unparse(lines, { newline: '\r\n' })}\r\n`
}

/** Returns a series with its numbers as JSON: see docs/formats.md and its schema. */
export function seriesJson(analysis: SeriesAnalysis, titles: Titles): string {
  const { table, series } = analysis
  const rows = table.rows()
  const document = {
    format: 'apokinema-series-table',
    version: SERIES_JSON_VERSION,
    title: series.title,
    trials: rows.map(({ id, trial }) => ({ id, title: titles.get(id) ?? '', leftOut: trial.leftOut })),
    columns: table.columns.map((column) => columnJson(analysis, column, rows)),
    laws: analysis.fits().map(({ settings, fit, between, readings }) => ({
      x: series.graphs[settings.graph].x,
      y: series.graphs[settings.graph].y,
      model: settings.model,
      trials: fit?.solution.whitenedResiduals.length ?? 0,
      reducedChiSquare: fit?.solution.reducedChiSquare ?? null,
      betweenTrials: between,
      parameters: (fit?.parameters ?? []).map(({ key, symbol, subscript, value, error, unit }) => ({
        key,
        symbol: symbol + (subscript && `_${subscript}`),
        ...plain({ value, error, unit }),
      })),
      readings: readings.map(({ id, name, ...reading }) => ({ id, name, ...withParts(reading) })),
    })),
    calculations: analysis.calculations().map(({ calculation: { symbol, name, expression }, result }) => ({
      symbol,
      name,
      expression,
      result: result && withParts(result),
    })),
  }
  return `${JSON.stringify(document, null, 1)}\n`
}

const plain = ({ value, error, unit }: { value: number; error: number; unit: string }) => ({
  value: number(value),
  error: number(error),
  unit,
})

/** Returns an estimate with its error budget. */
const withParts = ({ parts, ...estimate }: Pick<Estimate, 'value' | 'error' | 'unit' | 'parts'>) => ({
  ...plain(estimate),
  parts: parts.map(({ source, error }) => ({ source, error: number(error) })),
})

function columnJson({ table }: SeriesAnalysis, column: TableColumn, rows: readonly TableTrial[]) {
  const { id, unit } = column
  const { name, symbol, content } = column.column
  const cells = rows.map((row) => cellsOf(table.cell(row.id, id), isWordColumn(column)))
  const about = { id, name, symbol, kind: content.kind, unit }
  if (isWordColumn(column)) return { ...about, words: cells.map(([word]) => word) }
  const mean = table.shownMean(id)
  return {
    ...about,
    ...(content.kind === 'expression' && { expression: content.expression }),
    values: cells.map(([value]) => value),
    errors: cells.map(([, error]) => error),
    mean: mean && {
      count: mean.count,
      ...withParts(mean.mean),
      standardDeviation: number(mean.deviation),
      weighted: withParts(mean.weighted),
      birgeRatio: mean.agreement ? mean.agreement.birgeRatio : null,
    },
  }
}

/** Returns the name of a law by what it is drawn against: "Acceleration against sin θ". */
function lawName({ series }: SeriesAnalysis, graph: string): string {
  const { x, y } = series.graphs[graph]
  return `${series.columns[y].name} against ${series.columns[x].name}`
}
