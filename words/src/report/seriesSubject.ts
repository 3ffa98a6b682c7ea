import { symbolTex } from '@apokinema/core/fitting'
import { lowered } from '@apokinema/core/graphs'
import { inOrder, type Reported, type ValueSource } from '@apokinema/core/investigation'
import { seriesValue } from '@apokinema/core/report'
import {
  alignedMotions,
  comparedOf,
  type SeriesAnalysis,
  type ShownSeriesFit,
  totalError,
} from '@apokinema/core/series'
import { measurement, rounded, significant, unitFactor, withUnit } from '@apokinema/core/units'
import { comparisonText, expectedText } from '../comparisons.ts'
import { problemText } from '../problems.ts'
import { agreementText, graphTitle, motionTitle, scatterText, viewText } from '../series.ts'
import { digestOf } from './digest.ts'
import { methodText } from './methodText.ts'
import { type Content, missing, type Run, type Shown, textRun } from './shown.ts'
import {
  budgetSentences,
  calculationComparisonResult,
  calculationResult,
  closenessRows,
  expectedResult,
  plainResult,
  residualsOf,
} from './showResult.ts'
import type { ReportSubject, SourcedBlock } from './subject.ts'
import { workedOutOnce } from './workedOutOnce.ts'

/** A series: what is written of it, everything that follows from it, and the names of its trials. */
export interface NamedSeries {
  written: Reported
  analysis: SeriesAnalysis
  /** Titles of the investigations, by id. */
  titles: ReadonlyMap<string, string>
}

/**
 * Returns a series as what its report is written of.
 *
 * @param measured one object for as long as only the report is edited
 */
export function seriesSubject(named: NamedSeries, measured: object): ReportSubject {
  const { written, analysis } = named
  const value = (source: ValueSource) => seriesValue(written, analysis, source)
  return {
    report: written.report,
    ...workedOutOnce(measured, {
      value,
      method: () => seriesMethod(named),
      show: (label, block) => shownBlock(named, value, label, block),
    }),
  }
}

function shownBlock(
  named: NamedSeries,
  value: ReportSubject['value'],
  label: string,
  block: SourcedBlock,
): Shown {
  const { analysis } = named
  const calculations = { document: analysis.constantsDocument(), value, calculations: analysis.calculations }
  switch (block.kind) {
    case 'graph':
      return graphFigure(analysis, label, block)
    case 'motions':
      return motionsFigure(named, label, block)
    case 'fit':
      return lawResult(analysis, block)
    case 'reading':
      return readingResult(analysis, block)
    case 'comparison':
      return comparisonResult(named, block)
    case 'calculation-comparison':
      return calculationComparisonResult(calculations, block)
    case 'calculation':
      return calculationResult(calculations, block)
    case 'trials':
      return trialsTable(named, label, block)
    case 'mean':
      return meanResult(analysis, block)
    case 'table':
      return missing('table')
    case 'frame':
    case 'chronophotograph':
      return missing('picture')
  }
}

/** Returns how the trials were measured, and which of them do not count. */
export function seriesMethod({ analysis, titles }: NamedSeries): string {
  return [...setUp(analysis, titles), ...leftOut(analysis, titles)].join(' ')
}

function setUp(analysis: SeriesAnalysis, titles: ReadonlyMap<string, string>): string[] {
  const pattern = analysis.patternDocument()
  const id = analysis.patternId()
  if (!pattern || id === null) return []
  const name = titles.get(id) ?? pattern.title
  // Trials with another view, or a set-up of their own, were not set up like it.
  const others = inOrder(analysis.series.trials).filter(
    ([trial, { view }]) => trial !== id && view !== null && view.kind !== 'other',
  )
  const moved = others.flatMap(([trial, { view }]) => {
    const text = viewText(view)
    return text === '' ? [] : [`${titles.get(trial) ?? 'A trial'}: ${text}`]
  })
  return [
    `${name}: ${methodText(pattern)}`,
    ...(others.length > 0
      ? [
          `The other ${others.length === 1 ? 'trial was' : `${others.length} trials were`} set up like it. ${moved.join(' ')}`.trim(),
        ]
      : []),
  ]
}

function leftOut({ table }: SeriesAnalysis, titles: ReadonlyMap<string, string>): string[] {
  return table
    .rows()
    .flatMap(({ id, trial }) =>
      trial.leftOut === null ? [] : [`${titles.get(id) ?? 'A trial'} does not count: ${trial.leftOut}`],
    )
}

/** Shows chosen columns of the table of trials. */
function trialsTable(
  { analysis: { table }, titles }: NamedSeries,
  label: string,
  block: Content<'trials'>,
): Shown {
  const columns = table.columns.filter(({ id }) => block.columns === null || block.columns.includes(id))
  const trials = table.rows()
  const number = (value: number, error: number) =>
    block.errors ? measurement(value, error, '') : rounded(value, error)
  const rows = trials.map(({ id, trial }) => [
    `${titles.get(id) ?? ''}${trial.leftOut === null ? '' : ' *'}`,
    ...columns.map((column) => {
      const cell = table.cell(id, column.id)
      if (cell.kind === 'word') return cell.word
      return cell.kind === 'number' ? number(cell.value.value, totalError(cell.value)) : '–'
    }),
  ])
  const means = block.statistics ? table.means() : []
  const statistic = (name: string, text: (mean: (typeof means)[number]['mean']) => string) => [
    name,
    ...columns.map(({ id }) => {
      const found = means.find(({ column }) => column.id === id)
      return found ? text(found.mean) : ''
    }),
  ]
  const isLeftOut = trials.some(({ trial }) => trial.leftOut !== null)
  return {
    kind: 'table',
    label,
    caption:
      block.caption ??
      `The trials${block.errors ? ' with their standard errors, those that all trials share among them' : ''}.${isLeftOut ? ' Those with a star do not count.' : ''}`,
    head: [
      [textRun('Trial')],
      ...columns.map(({ column, unit }) => [textRun(`${column.name}${unit ? ` (${unit})` : ''}`)]),
    ],
    rows: [
      ...rows,
      ...(means.length > 0
        ? [
            statistic('Mean', ({ mean }) => number(mean.value, mean.error)),
            statistic('Standard deviation', ({ deviation }) => significant(deviation, 2)),
          ]
        : []),
    ],
  }
}

/** Shows a graph of the series: a point for each trial, with the laws through them. */
function graphFigure(analysis: SeriesAnalysis, label: string, block: Content<'graph'>): Shown {
  const { graph: id, ratio, title, fits: hasFits, errorBars, rangeX, rangeY, width } = block
  const graph = analysis.series.graphs[id]
  if (!graph) return missing('graph')
  const points = analysis.points(graph)
  const count = points.filter(({ isLeftOut }) => !isLeftOut).length
  const laws = hasFits ? analysis.fitsOf(id) : []
  const fitted = laws.flatMap(({ fit, settings }) => (fit ? [lowered(settings.name || fit.name)] : []))
  const trials = count === 1 ? '1 trial' : `${count} trials`
  const written = `${graphTitle(analysis, graph)}, ${trials}${fitted.length > 0 ? `, with the fit: ${fitted.join('; ')}` : ''}.`
  return {
    kind: 'figure',
    picture: { of: 'graph', graph: id, ratio, title, fits: hasFits, errorBars, rangeX, rangeY },
    width,
    label,
    caption: block.caption ?? written,
    alternative: block.alternative ?? written,
    digest: digestOf([
      points.map(({ x, y, isLeftOut }) => [x.value, totalError(x), y.value, totalError(y), isLeftOut]),
      laws.map(({ fit }) => fit?.parameters.map(({ value, error }) => [value, error])),
    ]),
  }
}

/** Shows the motions of the trials over each other. */
function motionsFigure({ analysis, titles }: NamedSeries, label: string, block: Content<'motions'>): Shown {
  const { motion: id, form, width, ratio } = block
  const motion = analysis.series.motions[id]
  if (!motion) return missing('picture')
  const { motions } = alignedMotions(analysis.table.countingRows(), motion)
  const names = motions.map(({ trial }) => titles.get(trial.id) ?? 'A trial').join(', ')
  const title = motionTitle(analysis, motion)
  const written = form === 'graph' ? `${title}: ${names}.` : `${title}, in one still: ${names}.`
  return {
    kind: 'figure',
    picture: { of: 'motions', motion: id, form, ratio },
    width,
    label,
    caption: block.caption ?? written,
    alternative: block.alternative ?? written,
    digest: digestOf([
      motion,
      motions.map(({ trial, points }) => [trial.id, points.map(({ x, y }) => [x, y])]),
    ]),
  }
}

/** Returns a law with the names of what it is through; null if it is gone. */
function lawOf(analysis: SeriesAnalysis, id: string): { law: ShownSeriesFit; what: string } | null {
  const law = analysis.fit(id)
  return law && { law, what: graphTitle(analysis, analysis.series.graphs[law.settings.graph]) }
}

/** Shows a law through the trials: its formula, its readings and how close it is. */
function lawResult(
  analysis: SeriesAnalysis,
  { fit: id, parameters, closeness, residuals }: Content<'fit'>,
): Shown {
  const found = lawOf(analysis, id)
  if (!found) return missing('fit')
  const { law, what } = found
  const { settings, fit, between, readings, error } = law
  const title = `${settings.name || (fit?.name ?? 'Law')}: ${what}`
  if (!fit) return { ...plainResult(title), sentences: error ? [problemText(error)] : [] }
  const { symbol } = analysis.series.columns[analysis.series.graphs[settings.graph].y]
  const left = `${symbolTex(symbol, '')} = `
  const { reducedChiSquare, freedom } = fit.solution
  return {
    ...plainResult(title),
    tex: fit.formula === '' ? [] : [left + fit.formula, left + fit.numbers],
    rows: [
      ...(parameters
        ? readings.map(({ name, value, error: by, unit }): [Run[], string] => [
            [textRun(name)],
            measurement(value, by, unit),
          ])
        : []),
      ...(closeness ? closenessRows(fit) : []),
    ],
    sentences:
      closeness && reducedChiSquare !== null
        ? [
            scatterText({
              reducedChiSquare,
              freedom,
              between: between > 0 ? withUnit(significant(between, 2), fit.unit) : null,
            }),
          ]
        : [],
    residuals: residuals ? residualsOf(fit) : null,
  }
}

/** Shows a reading of a law, and where its error comes from. */
function readingResult(
  analysis: SeriesAnalysis,
  { fit: id, reading: key, budget }: Content<'reading'>,
): Shown {
  const found = lawOf(analysis, id)
  const reading = found?.law.readings.find((one) => one.id === key)
  if (!found || !reading) return missing('reading')
  const { name, value, error, unit } = reading
  return {
    ...plainResult(found.what),
    rows: [[[textRun(name)], measurement(value, error, unit)]],
    sentences: budget ? budgetSentences(reading) : [],
  }
}

/** Shows the reading of a law that is compared beside what was expected. */
function comparisonResult({ written, analysis }: NamedSeries, { fit: id }: Content<'comparison'>): Shown {
  const law = analysis.fit(id)
  const compared = law && comparedOf(law)
  if (!compared) return missing('comparison')
  const { reading, against } = compared
  const { name, value, error, unit } = reading
  return expectedResult(
    [[textRun(name)], measurement(value, error, unit)],
    seriesValue(written, analysis, { of: 'fit-comparison', fit: id, value: 'expected' }),
    `${name}, ${expectedText(against, unitFactor(unit))} expected: ${comparisonText(analysis.constantsDocument(), reading, against)}`,
  )
}

/** Shows the mean of a column and how its numbers scatter. */
function meanResult(analysis: SeriesAnalysis, { column: id, budget }: Content<'mean'>): Shown {
  const { table } = analysis
  const column = table.column(id)
  const varying = table.varyingConditions().map((condition) => condition.column.name)
  if (column && varying.length > 0)
    return { kind: 'missing', text: `No mean is shown: the trials differ in ${varying.join(' and ')}.` }
  const mean = column && table.mean(id)
  if (!mean) return missing('mean')
  const { unit } = column
  return {
    ...plainResult(`${column.column.name}: mean of ${mean.count} trials`),
    rows: [
      [[textRun('Mean')], measurement(mean.mean.value, mean.mean.error, unit)],
      [[textRun('Weighted mean')], measurement(mean.weighted.value, mean.weighted.error, unit)],
      ...(mean.count > 1
        ? [
            [[textRun('Standard deviation')], withUnit(significant(mean.deviation, 2), unit)] as [
              Run[],
              string,
            ],
          ]
        : []),
    ],
    sentences: [
      ...(mean.agreement ? [agreementText(mean.agreement)] : []),
      ...(budget ? budgetSentences(mean.mean) : []),
    ],
  }
}
