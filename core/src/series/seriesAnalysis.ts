import {
  calculateAll,
  fitReadings,
  type KnownValue,
  type NumberedFits,
  type ShownCalculation,
} from '../calculations/index.ts'
import { type ColumnFit, type ErrorSource, type NamedReading, namedReadings } from '../fitting/index.ts'
import { type Against, type Investigation, inOrder, newInvestigation } from '../investigation/index.ts'
import {
  asName,
  commonError,
  dimension,
  ErrorSensitivity,
  ExpressionError,
  once,
  type QuantityInfo,
} from '../motion/index.ts'
import { FitError } from '../regression/index.ts'
import { parseUnit } from '../units/index.ts'
import { type MeasuredSeries, patternIdOf, type SeriesFit, type SeriesGraph } from './document/series.ts'
import { fitTrials, type TrialColumn } from './fitTrials.ts'
import { isSetUp } from './newTrial.ts'
import { outlyingResiduals } from './outliers.ts'
import { type NumbersByTrial, SeriesTable, type TableColumn, type TableTrial } from './seriesTable.ts'
import { differingParts, type SettingsPart } from './settings.ts'
import type { TrialValue } from './trialValue.ts'

/** A trial on a graph, in the columns' units. */
export interface TrialPoint {
  trial: TableTrial
  x: TrialValue
  y: TrialValue
  /** Left out: drawn, but not fitted. */
  isLeftOut: boolean
}

/** What a reading of a law can be compared with. */
type StatedAgainst = Exclude<Against, { kind: 'reading' } | null>

/** A fit through trials with its result, or why there is none. */
export interface ShownSeriesFit {
  id: string
  settings: SeriesFit
  fit: ColumnFit | null
  /** Standard deviation of y between trials beyond their own errors, in the column's unit. */
  between: number
  readings: NamedReading[]
  error: FitError | ExpressionError | null
  /** Ids of trials that lie farther from the law than chance explains. */
  outliers: string[]
}

/** Returns the reading of a law that is looked at: the chosen one, or the first if that is gone with another model; undefined without any. */
export function readingLookedAt({
  settings: { expected },
  readings,
}: Pick<ShownSeriesFit, 'settings' | 'readings'>): NamedReading | undefined {
  return readings.find(({ id }) => id === expected?.reading) ?? readings[0]
}

/** Returns the reading of a law that is compared with a stated value, and that value; null if none is. */
export function comparedOf({
  settings,
  readings,
}: ShownSeriesFit): { reading: NamedReading; against: StatedAgainst } | null {
  const against = settings.expected?.against
  const reading = readingLookedAt({ settings, readings })
  return reading && against && against.kind !== 'reading' ? { reading, against } : null
}

/** A trial whose settings are not those of the pattern, and in which parts. */
export interface DifferingTrial {
  id: string
  document: Investigation
  parts: SettingsPart[]
}

/** Errors of one column have numbers that begin here, times the column's place. */
const ERRORS_PER_COLUMN = 1000

/** Everything that follows from a series and its trials. It is computed when it is first asked for, and once. */
export class SeriesAnalysis {
  readonly table: SeriesTable
  readonly fits: () => ShownSeriesFit[]
  /** Numbers that calculations can use: means of columns, readings of fits, and g. */
  readonly knownValues: () => KnownValue[]
  readonly calculations: () => ShownCalculation[]
  /** The trials that are set up and have other settings than the pattern. */
  readonly differing: () => DifferingTrial[]

  /**
   * @param documents by the ids of the trials; those that are missing or null can't be read
   * @param kept numbers of trials whose documents are still to come
   */
  constructor(
    readonly series: MeasuredSeries,
    private readonly documents: ReadonlyMap<string, Investigation | null>,
    kept: NumbersByTrial = new Map(),
  ) {
    this.table = new SeriesTable(series, documents, kept)
    this.fits = once(() => inOrder(series.fits).map(([id, settings]) => this.shownFit(id, settings)))
    this.knownValues = once(() => [
      ...this.means(),
      ...fitReadings(this.numberedFits(), 'line'),
      this.freeFall(),
    ])
    this.differing = once(() => this.differingTrials())
    this.calculations = once(() => calculateAll(series, this.knownValues(), 'scatter'))
  }

  fit(id: string): ShownSeriesFit | null {
    return this.fits().find((one) => one.id === id) ?? null
  }

  /** Returns the laws through the trials of a graph. */
  fitsOf(graph: string): ShownSeriesFit[] {
    return this.fits().filter(({ settings }) => settings.graph === graph)
  }

  /** Returns the trials of a graph that have numbers in both of its columns. */
  points({ x, y }: Pick<SeriesGraph, 'x' | 'y'>): TrialPoint[] {
    return this.table.rows().flatMap((trial): TrialPoint[] => {
      const [along, up] = [this.table.cell(trial.id, x), this.table.cell(trial.id, y)]
      if (along.kind !== 'number' || up.kind !== 'number') return []
      return [{ trial, x: along.value, y: up.value, isLeftOut: trial.trial.leftOut !== null }]
    })
  }

  /** Returns the id of the trial whose set-up others take over; null without trials. */
  patternId(): string | null {
    return patternIdOf(this.series)
  }

  /** Returns the document of that trial; null if there is none that can be read. */
  patternDocument(): Investigation | null {
    const id = this.patternId()
    return (id !== null && this.documents.get(id)) || null
  }

  /** Returns the investigation whose constants count for the series: the pattern's, or an empty one. */
  constantsDocument(): Investigation {
    return this.patternDocument() ?? newInvestigation('')
  }

  private differingTrials(): DifferingTrial[] {
    const pattern = this.patternDocument()
    if (!pattern) return []
    return this.table.rows().flatMap(({ id, document }) => {
      if (!document || document === pattern || !isSetUp(document)) return []
      const parts = differingParts(pattern, document)
      return parts.length > 0 ? [{ id, document, parts }] : []
    })
  }

  private shownFit(id: string, settings: SeriesFit): ShownSeriesFit {
    const none = { id, settings, fit: null, between: 0, readings: [], outliers: [] }
    const graph = this.series.graphs[settings.graph]
    const [x, y] = [this.table.column(graph.x), this.table.column(graph.y)]
    if (!x || !y) return { ...none, error: null }
    const trials = this.table.counting(graph.x, graph.y)
    try {
      const { fit, between } = fitTrials(
        this.trialColumn(x, trials),
        this.trialColumn(y, trials),
        settings,
        trials.map((trial) => this.table.covariance(trial.id, x, y)),
      )
      const outlying = outlyingResiduals(fit.solution.whitenedResiduals, fit.parameters.length)
      return {
        ...none,
        fit,
        between,
        readings: namedReadings([fit]),
        error: null,
        outliers: outlying.map((i) => trials[i].id),
      }
    } catch (error) {
      if (error instanceof FitError || error instanceof ExpressionError) return { ...none, error }
      throw error
    }
  }

  private trialColumn(column: TableColumn, trials: readonly TableTrial[]): TrialColumn {
    const info = quantityOf(column)
    return {
      quantity: { info, dimension: info.dimension, unit: column.unit },
      values: this.table.values(column.id, trials),
      errors: trials.map(({ id }) => this.errorNumber(column.id, id)),
    }
  }

  /** Returns the number of the own error of a trial's value in a column. */
  private errorNumber(column: string, trial: string): number {
    const place = this.table.columns.findIndex(({ id }) => id === column)
    return place * ERRORS_PER_COLUMN + Object.keys(this.series.trials).indexOf(trial)
  }

  private numberedFits(): NumberedFits[] {
    return this.fits().flatMap(({ fit }, i) => (fit ? [{ number: i + 1, fits: [[fit]] }] : []))
  }

  /** Returns the means of all columns with numbers, as mean_ and the column's symbol. */
  private means(): KnownValue[] {
    return this.table.columns.flatMap((column): KnownValue[] => {
      const mean = this.table.mean(column.id)
      if (!mean || !Number.isFinite(mean.mean.error)) return []
      const { factor } = column
      const trials = this.table.counting(column.id)
      const sensitivity = () => {
        const marks = new ErrorSensitivity()
        const common = new Map<string, { source: ErrorSource; by: number }>()
        const scatter = mean.mean.parts.find(({ source }) => source === 'scatter')?.error ?? 0
        for (const { id } of trials)
          marks.add(this.errorNumber(column.id, id), (factor * scatter) / Math.sqrt(trials.length))
        for (const { shared } of this.table.values(column.id, trials))
          for (const [key, { source, by }] of shared)
            common.set(key, { source, by: (common.get(key)?.by ?? 0) + (factor * by) / trials.length })
        return { marks, common }
      }
      return [
        {
          name: `mean_${asName(column.column.symbol)}`,
          what: `mean of ${column.column.name}`,
          value: factor * mean.mean.value,
          error: factor * mean.mean.error,
          dimension: column.dimension ?? dimension({}),
          unit: column.unit,
          factor,
          sensitivity,
        },
      ]
    })
  }

  private freeFall(): KnownValue {
    const { freeFall } = this.constantsDocument()
    const unit = 'm/s²'
    return {
      name: 'g',
      what: 'acceleration of free fall',
      ...freeFall,
      dimension: parseUnit(unit)!.dimension,
      unit,
      factor: 1,
      sensitivity: () => ({
        marks: new ErrorSensitivity(),
        common: new Map(
          freeFall.error > 0
            ? [[`stated ${commonError.freeFall}`, { source: 'stated' as const, by: freeFall.error }]]
            : [],
        ),
      }),
    }
  }
}

/** Returns a column as fits ask about quantities. Angles are pure numbers there: a law through trials is no motion. */
function quantityOf({ id, column, dimension: size }: TableColumn): QuantityInfo {
  return {
    id,
    symbol: column.symbol,
    subscript: '',
    name: column.name,
    dimension: { ...(size ?? dimension({})), angle: 0 },
    direction: 'size',
    needs: [],
  }
}
