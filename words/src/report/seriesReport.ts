import { nameTex } from '@apokinema/core/calculations'
import { symbolTex } from '@apokinema/core/fitting'
import { inOrder, newInvestigation, type TextStyle } from '@apokinema/core/investigation'
import { type SeriesAnalysis, type ShownSeriesFit, totalError } from '@apokinema/core/series'
import { measurement, significant, unitFactor, withUnit } from '@apokinema/core/units'
import { comparisonText, expectedText } from '../comparisons.ts'
import { problemText } from '../problems.ts'
import { agreementText, scatterText, viewText } from '../series.ts'
import { methodText } from './methodText.ts'
import { type Run, type Shown, type ShownBlock, textRun } from './shown.ts'

/** A picture of a series: a graph, or motions over each other. */
export interface SeriesPicture {
  /** Id of the graph or of the motions. */
  id: string
  svg: string
  caption: string
  /** In words, for people who can't see it. */
  alternative: string
}

/**
 * Shows a whole series as a report: how the trials were measured, their table, graphs with laws, means and calculations.
 *
 * @param titles of the investigations, by id
 */
export function showSeriesReport(
  analysis: SeriesAnalysis,
  titles: ReadonlyMap<string, string>,
  pictures: readonly SeriesPicture[],
): ShownBlock[] {
  const shown: Shown[] = [
    heading('Set-up'),
    ...setUp(analysis, titles).map(paragraph),
    heading('Trials'),
    trialsTable(analysis, titles),
    ...leftOut(analysis, titles).map(paragraph),
  ]
  let figure = 1
  const figureOf = ({ svg, caption, alternative }: SeriesPicture): Shown => ({
    kind: 'figure',
    picture: { of: 'drawing', svg },
    width: 1,
    label: `Figure ${figure++}`,
    caption,
    alternative,
    digest: '',
  })
  const results = [...meanResults(analysis), ...calculationResults(analysis)]
  if (pictures.length + results.length > 0) shown.push(heading('Results'))
  for (const picture of pictures) {
    shown.push(figureOf(picture))
    const laws = analysis.fits().filter(({ settings }) => settings.graph === picture.id)
    shown.push(...laws.map((law) => lawResult(analysis, law)))
  }
  shown.push(...results)
  return shown.map((one, i) => ({ id: `block-${i}`, pinned: null, shown: one }))
}

const styled =
  (style: TextStyle) =>
  (text: string): Shown => ({ kind: 'text', style, indent: 0, runs: [textRun(text)] })
const heading = styled('heading')
const paragraph = styled('paragraph')

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

function trialsTable({ table }: SeriesAnalysis, titles: ReadonlyMap<string, string>): Shown {
  const head: Run[][] = [
    [textRun('Trial')],
    ...table.columns.map(({ column, unit }) => [textRun(`${column.name}${unit ? ` (${unit})` : ''}`)]),
  ]
  const rows = table.rows().map(({ id, trial }) => [
    `${titles.get(id) ?? ''}${trial.leftOut === null ? '' : ' *'}`,
    ...table.columns.map((column) => {
      const cell = table.cell(id, column.id)
      if (cell.kind === 'word') return cell.word
      return cell.kind === 'number' ? measurement(cell.value.value, totalError(cell.value), '') : '–'
    }),
  ])
  return {
    kind: 'table',
    label: 'Table 1',
    caption: 'The trials with their standard errors, those that all trials share among them.',
    head,
    rows,
  }
}

function leftOut({ table }: SeriesAnalysis, titles: ReadonlyMap<string, string>): string[] {
  return table
    .rows()
    .flatMap(({ id, trial }) =>
      trial.leftOut === null ? [] : [`* ${titles.get(id) ?? 'A trial'} does not count: ${trial.leftOut}`],
    )
}

function lawResult(
  analysis: SeriesAnalysis,
  { settings, fit, between, readings, error }: ShownSeriesFit,
): Shown {
  const { x, y } = analysis.series.graphs[settings.graph]
  const [along, up] = [analysis.series.columns[x], analysis.series.columns[y]]
  const against = settings.expected?.against ?? null
  const compared = readings.find(({ id }) => id === settings.expected?.reading) ?? readings[0]
  const chiSquare = fit?.solution.reducedChiSquare ?? null
  return {
    kind: 'result',
    title: `${fit?.name ?? 'Law'}: ${up.name} against ${along.name}`,
    tex: fit?.formula ? [`${symbolTex(up.symbol, '')} = ${fit.formula}`] : [],
    rows: readings.map(({ name, value, error: by, unit }) => [[textRun(name)], measurement(value, by, unit)]),
    sentences: [
      ...(error ? [problemText(error)] : []),
      ...(compared && against && against.kind !== 'reading'
        ? [
            `${compared.name}, ${expectedText(against, unitFactor(compared.unit))} expected: ${comparisonText(analysis.patternDocument() ?? newInvestigation(''), compared, against)}`,
          ]
        : []),
      ...(chiSquare !== null
        ? [
            scatterText({
              reducedChiSquare: chiSquare,
              freedom: fit?.solution.freedom ?? 0,
              between: between > 0 ? withUnit(significant(between, 2), fit?.unit ?? '') : null,
            }),
          ]
        : []),
    ],
    residuals: null,
  }
}

function meanResults({ table }: SeriesAnalysis): Shown[] {
  return table.means().flatMap(({ column, mean }): Shown[] => {
    if (column.column.content.kind !== 'reading') return []
    return [
      {
        kind: 'result',
        title: `${column.column.name}: mean of ${mean.count} trials`,
        tex: [],
        rows: [
          [[textRun('Mean')], measurement(mean.mean.value, mean.mean.error, column.unit)],
          [[textRun('Weighted mean')], measurement(mean.weighted.value, mean.weighted.error, column.unit)],
          [[textRun('Standard deviation')], withUnit(significant(mean.deviation, 2), column.unit)],
        ],
        sentences: mean.agreement ? [agreementText(mean.agreement)] : [],
        residuals: null,
      },
    ]
  })
}

function calculationResults(analysis: SeriesAnalysis): Shown[] {
  return analysis.calculations().flatMap(({ calculation: { name, symbol }, result }): Shown[] =>
    result
      ? [
          {
            kind: 'result',
            title: name || symbol,
            tex: [`${nameTex(symbol)} = ${result.formula}`, `${nameTex(symbol)} = ${result.numbers}`],
            rows: [[[textRun(name || symbol)], measurement(result.value, result.error, result.unit)]],
            sentences: [],
            residuals: null,
          },
        ]
      : [],
  )
}
