import { sensitivityOfSum } from '../calculations/index.ts'
import { type Investigation, inOrder } from '../investigation/index.ts'
import {
  areAlike,
  type Expression,
  ExpressionError,
  type ExpressionProblem,
  readExpression,
} from '../motion/index.ts'
import { type Dimension, parseUnit, unitOf } from '../units/index.ts'
import type { MeasuredSeries, SeriesColumn, Trial } from './document/series.ts'
import { type SeriesMean, seriesMean } from './mean.ts'
import { ownCovariance, type SharedKey, sharedKeyIn, TYPED, trialValueOf } from './sharing.ts'
import { type NumberTrouble, sourceKey, statedNumber, type TrialNumber, trialNumber } from './trialNumber.ts'
import type { TrialValue } from './trialValue.ts'

/** Why a cell has no value. */
export type CellTrouble =
  | { code: NumberTrouble }
  /** The investigation can't be read, or was deleted. */
  | { code: 'no-trial' }
  /** Its unit is not that of the column. */
  | { code: 'other-unit'; unit: string }
  /** A name in an expression has no value in this trial. */
  | { code: 'missing'; name: string }
  | { code: 'expression'; problem: ExpressionProblem }

/** What stands in one cell of the table. */
export type Cell =
  | { kind: 'number'; number: TrialNumber; value: TrialValue }
  | { kind: 'word'; word: string }
  | { kind: 'empty' }
  | { kind: 'trouble'; trouble: CellTrouble }

/** Numbers of trials, by their ids and sources. */
export type NumbersByTrial = ReadonlyMap<string, ReadonlyMap<string, TrialNumber | NumberTrouble>>

/** A trial in the table: null documents are those that can't be read. */
export interface TableTrial {
  id: string
  trial: Trial
  document: Investigation | null
}

/** A column in the table with the unit in which all its numbers stand. */
export interface TableColumn {
  id: string
  column: SeriesColumn
  unit: string
  /** How many SI units that is. */
  factor: number
  /** Null for words, and for a column without any number. */
  dimension: Dimension | null
}

/** Trials with one value of the condition that trials are grouped by. */
export interface TrialGroup {
  /** Null: of all trials. */
  cell: Cell | null
  trials: TableTrial[]
}

const trouble = (one: CellTrouble): Cell => ({ kind: 'trouble', trouble: one })

/** The table of a series: a row a trial, a column for each condition and reading. Everything is computed when it is first asked for. */
export class SeriesTable {
  readonly columns: TableColumn[]
  private readonly trials: TableTrial[]
  private readonly cells = new Map<string, Cell>()
  private readonly raw = new Map<string, TrialNumber | CellTrouble>()
  /** Expressions of columns by their texts: reading one takes longer than evaluating it for a trial. */
  private readonly expressions = new Map<string, Expression>()
  private readonly sharedKeys = new Map<string, SharedKey>()

  /**
   * @param documents by the ids of the trials; those that are missing or null can't be read
   * @param kept numbers of trials whose documents are still to come
   */
  constructor(
    readonly series: MeasuredSeries,
    private readonly documents: ReadonlyMap<string, Investigation | null>,
    private readonly kept: NumbersByTrial = new Map(),
  ) {
    this.trials = inOrder(series.trials).map(([id, trial]) => ({
      id,
      trial,
      document: documents.get(id) ?? null,
    }))
    this.columns = inOrder(series.columns).map(([id, column]) => this.tableColumn(id, column))
  }

  /** Returns the trials as they are sorted: those without a value last, equal ones as they were added. */
  rows(): TableTrial[] {
    const { sorted } = this.series
    if (!sorted) return this.trials
    const sign = sorted.descending ? -1 : 1
    const keyed = this.trials.map((trial, place) => ({
      trial,
      place,
      cell: this.cell(trial.id, sorted.column),
    }))
    return keyed
      .sort((a, b) => {
        const [known, other] = [isKnown(a.cell), isKnown(b.cell)]
        if (known !== other) return known ? -1 : 1
        return sign * compared(a.cell, b.cell) || a.place - b.place
      })
      .map(({ trial }) => trial)
  }

  /** Returns the trials that count, as they are sorted. */
  countingRows(): TableTrial[] {
    return this.rows().filter(({ trial }) => trial.leftOut === null)
  }

  /** Returns what stands in a cell. */
  cell(trialId: string, columnId: string): Cell {
    const key = `${trialId} ${columnId}`
    const cell = this.cells.get(key) ?? this.makeCell(trialId, columnId)
    this.cells.set(key, cell)
    return cell
  }

  /** Returns a column by its id; null for one that is gone. */
  column(id: string): TableColumn | null {
    return this.columns.find((one) => one.id === id) ?? null
  }

  /** Returns the trials that count and have numbers in all of these columns. */
  counting(...columnIds: string[]): TableTrial[] {
    return this.trials.filter(
      ({ id, trial }) =>
        trial.leftOut === null && columnIds.every((column) => this.cell(id, column).kind === 'number'),
    )
  }

  /** Returns the values of a column in trials that have numbers there, in its unit. */
  values(columnId: string, trials: readonly TableTrial[]): TrialValue[] {
    return trials.flatMap(({ id }) => {
      const cell = this.cell(id, columnId)
      return cell.kind === 'number' ? [cell.value] : []
    })
  }

  /** Returns the covariance of a trial's numbers in two columns that other trials do not share, in the columns' units. */
  covariance(trialId: string, a: TableColumn, b: TableColumn): number {
    const [one, other] = [this.cell(trialId, a.id), this.cell(trialId, b.id)]
    if (one.kind !== 'number' || other.kind !== 'number') return 0
    return ownCovariance(one.number, other.number, this.sharedKey(trialId)) / (a.factor * b.factor)
  }

  /** Returns the mean of a column over trials that count; null if none of these has a number there. */
  mean(columnId: string, within: readonly TableTrial[] = this.trials): SeriesMean | null {
    const values = this.values(
      columnId,
      within.filter(({ trial }) => trial.leftOut === null),
    )
    return values.length === 0 ? null : seriesMean(values, this.column(columnId)?.unit ?? '')
  }

  /** Returns the mean of a column as it is shown: null also where trials that count differ in a condition. */
  shownMean(columnId: string): SeriesMean | null {
    return this.varyingConditions().length > 0 ? null : this.mean(columnId)
  }

  /** Returns the means, as they are shown, of columns with two numbers or more. */
  means(): { column: TableColumn; mean: SeriesMean }[] {
    if (this.varyingConditions().length > 0) return []
    return this.columns.flatMap((column) => {
      const mean = this.mean(column.id)
      return mean && mean.count > 1 ? [{ column, mean }] : []
    })
  }

  /** Returns the conditions in which trials that count differ: a mean over them says little. */
  varyingConditions(within: readonly TableTrial[] = this.trials): TableColumn[] {
    const counting = within.filter(({ trial }) => trial.leftOut === null)
    return this.columns.filter(({ id, column }) => {
      if (column.content.kind !== 'number' && column.content.kind !== 'word') return false
      const values = counting.flatMap((trial) => conditionIn(this.cell(trial.id, id)) ?? [])
      return new Set(values).size > 1
    })
  }

  /** Returns the trials in groups with equal values of a condition; one group of all if they are not grouped. */
  groups(): TrialGroup[] {
    const { grouped } = this.series
    const rows = this.rows()
    if (grouped === null) return [{ cell: null, trials: rows }]
    const groups = new Map<string, TrialGroup>()
    for (const trial of rows) {
      const cell = this.cell(trial.id, grouped)
      const key = conditionIn(cell) ?? ''
      const group = groups.get(key) ?? { cell, trials: [] }
      group.trials.push(trial)
      groups.set(key, group)
    }
    return [...groups.values()]
  }

  private sharedKey(trialId: string): SharedKey {
    const known = this.sharedKeys.get(trialId) ?? sharedKeyIn(this.series, trialId)
    this.sharedKeys.set(trialId, known)
    return known
  }

  private makeCell(trialId: string, columnId: string): Cell {
    const column = this.series.columns[columnId]
    if (column.content.kind === 'word') {
      const typed = this.series.trials[trialId].typed[columnId]
      return typed?.kind === 'word' ? { kind: 'word', word: typed.word } : { kind: 'empty' }
    }
    const number = this.numberOf(trialId, columnId)
    if (number === null) return { kind: 'empty' }
    if ('code' in number) return trouble(number)
    const shown = this.column(columnId)!
    if (shown.dimension && !areAlike(shown.dimension, number.dimension))
      return trouble({ code: 'other-unit', unit: number.unit })
    return { kind: 'number', number, value: trialValueOf(number, shown.factor, this.sharedKey(trialId)) }
  }

  /** Returns a trial's number in a column, or why there is none; null if nothing was typed. */
  private numberOf(
    trialId: string,
    columnId: string,
    within: readonly string[] = [],
  ): TrialNumber | CellTrouble | null {
    const { content, unit } = this.series.columns[columnId]
    const typed = this.series.trials[trialId].typed[columnId]
    if (content.kind === 'word') return null
    if (content.kind === 'number')
      return typed?.kind === 'number'
        ? statedNumber(`${TYPED}${trialId} ${columnId}`, { ...typed, unit })
        : null
    const key = `${trialId} ${columnId}`
    const known = this.raw.get(key)
    if (known) return known
    const found =
      content.kind === 'reading'
        ? this.read(trialId, content.source)
        : this.evaluated(trialId, columnId, content.expression, within)
    this.raw.set(key, found)
    return found
  }

  private read(trialId: string, source: Parameters<typeof trialNumber>[1]): TrialNumber | CellTrouble {
    const document = this.documents.get(trialId)
    const number = document ? trialNumber(document, source) : this.kept.get(trialId)?.get(sourceKey(source))
    if (number === undefined) return { code: 'no-trial' }
    return typeof number === 'string' ? { code: number } : number
  }

  /** @param within columns whose expressions are being evaluated, outermost first */
  private evaluated(
    trialId: string,
    columnId: string,
    text: string,
    within: readonly string[],
  ): TrialNumber | CellTrouble {
    try {
      const expression = this.expressions.get(text) ?? readExpression(text)
      this.expressions.set(text, expression)
      const numbers: TrialNumber[] = []
      for (const name of expression.names) {
        const [other] = Object.entries(this.series.columns).find(([, { symbol }]) => symbol === name) ?? []
        if (other === undefined) throw new ExpressionError({ code: 'unknown-name', name })
        if (other === columnId || within.includes(other))
          throw new ExpressionError({ code: 'circular', name, isDirect: other === columnId })
        const number = this.numberOf(trialId, other, [...within, columnId])
        if (number === null) return { code: 'missing', name }
        if ('code' in number) return number.code === 'expression' ? number : { code: 'missing', name }
        numbers.push(number)
      }
      const dimension = expression.dimension(numbers.map((number) => number.dimension))
      const { value, gradient } = expression.evaluate(numbers.map((number) => number.value))
      if (!Number.isFinite(value)) throw new ExpressionError({ code: 'division-by-zero' })
      const freedoms = new Map(numbers.flatMap((number) => [...number.freedoms]))
      return {
        value,
        dimension,
        unit: unitOf(dimension, 'm'),
        factor: 1,
        sensitivity: sensitivityOfSum(
          numbers.map(({ sensitivity }) => sensitivity),
          gradient,
        ),
        freedoms,
      }
    } catch (error) {
      if (error instanceof ExpressionError) return { code: 'expression', problem: error.problem }
      throw error
    }
  }

  /** Returns a column with its unit: the one that is stated, or that of the first trial that has a number. */
  private tableColumn(id: string, column: SeriesColumn): TableColumn {
    const { content, unit } = column
    if (content.kind === 'word') return { id, column, unit: '', factor: 1, dimension: null }
    const stated = unit.trim() === '' && content.kind !== 'number' ? null : parseUnit(unit)
    if (stated) return { id, column, unit: unit.trim(), ...stated }
    for (const trial of this.trials) {
      const number = this.numberOf(trial.id, id)
      if (number && !('code' in number)) {
        const { dimension, factor } = number
        return { id, column, unit: number.unit, factor, dimension }
      }
    }
    return { id, column, unit: unit.trim(), factor: 1, dimension: null }
  }
}

/** Returns a text that is the same for equal values of a condition; null where there is none. */
const conditionIn = (cell: Cell): string | null =>
  cell.kind === 'number' ? `number ${cell.value.value}` : cell.kind === 'word' ? `word ${cell.word}` : null

const isKnown = (cell: Cell) => cell.kind === 'number' || cell.kind === 'word'

function compared(a: Cell, b: Cell): number {
  if (a.kind === 'number' && b.kind === 'number') return a.value.value - b.value.value
  if (a.kind === 'word' && b.kind === 'word') return a.word.localeCompare(b.word)
  return 0
}
