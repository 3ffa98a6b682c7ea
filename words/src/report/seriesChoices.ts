import { lowered } from '@apokinema/core/graphs'
import {
  AS_MEASURED,
  type BlockContent,
  inOrder,
  type MotionForm,
  type ValueSource,
} from '@apokinema/core/investigation'
import { seriesValue, valueText } from '@apokinema/core/report'
import { comparedOf, readingLookedAt, type ShownSeriesFit } from '@apokinema/core/series'
import { measurement } from '@apokinema/core/units'
import { graphTitle, motionTitle } from '../series.ts'
import {
  type BlockChoice,
  calculationBlock,
  comparedValues,
  FIGURE,
  fitBlock,
  GRAPH_RATIO,
  graphBlock,
  type ValueChoice,
} from './choices.ts'
import { type NamedSeries, seriesMethod } from './seriesSubject.ts'

/** Returns a block with the table of trials: all columns with errors, and the means below. */
export function trialsBlock(): BlockContent {
  return { kind: 'trials', columns: null, statistics: true, errors: true, caption: null }
}

/** Returns a block with motions over each other. */
export function motionsBlock(motion: string, form: MotionForm): BlockContent {
  return { kind: 'motions', motion, form, ratio: GRAPH_RATIO, ...FIGURE }
}

/** Returns a block with the mean of a column. */
export function meanBlock(column: string): BlockContent {
  return { kind: 'mean', column, budget: true }
}

/** Returns the laws of a series that have a result, with their numbers. */
function lawsOf({ analysis }: NamedSeries): { law: ShownSeriesFit; number: number; name: string }[] {
  return analysis
    .fits()
    .flatMap((law, i) => (law.fit ? [{ law, number: i + 1, name: law.settings.name || law.fit.name }] : []))
}

/** Returns the words that tell a law from others; empty for the only one. */
const ofLaw = (laws: readonly unknown[], number: number) => (laws.length > 1 ? `, law ${number}` : '')

/** Returns the values of a series that can stand in a text, with what they are now: readings of laws and means first. */
export function seriesValueChoices(named: NamedSeries): ValueChoice[] {
  const { written, analysis, titles } = named
  const { series } = analysis
  const laws = lawsOf(named)
  const means = analysis.table.means().map(({ column }) => column)
  const statistics = [
    ['mean', 'Mean of'],
    ['weighted-mean', 'Weighted mean of'],
    ['deviation', 'Standard deviation of'],
  ] as const
  const choices: [string, ValueSource][] = [
    ...laws.flatMap(({ law, number }) =>
      law.readings.map(({ id, name }): [string, ValueSource] => [
        `${name}${ofLaw(laws, number)}`,
        { of: 'reading', fit: law.id, reading: id },
      ]),
    ),
    ...statistics.flatMap(([statistic, words]) =>
      means.map(({ id, column }): [string, ValueSource] => [
        `${words} ${column.name}`,
        { of: 'column', column: id, statistic },
      ]),
    ),
    ...laws.flatMap(({ law, number }): [string, ValueSource][] =>
      comparedOf(law) ? comparedValues(law.id, ofLaw(laws, number)) : [],
    ),
    ...inOrder(series.calculations).map(([id, { name, symbol }]): [string, ValueSource] => [
      name || symbol,
      { of: 'calculation', calculation: id },
    ]),
    ['Number of trials', { of: 'trials' }],
    ...laws.flatMap(({ law, number }): [string, ValueSource][] => [
      [`RMSE${ofLaw(laws, number)}`, { of: 'statistic', fit: law.id, statistic: 'rmse' }],
      [`R²${ofLaw(laws, number)}`, { of: 'statistic', fit: law.id, statistic: 'r-squared' }],
    ]),
    ...analysis.table.columns.flatMap(({ id, column }) =>
      inOrder(series.trials).map(([trial]): [string, ValueSource] => [
        `${column.name} of ${titles.get(trial) ?? 'a trial'}`,
        { of: 'cell', trial, column: id },
      ]),
    ),
    ['Acceleration of free fall', { of: 'free-fall' }],
    ['Title', { of: 'title' }],
  ]
  return choices.flatMap(([label, source]) => {
    const live = seriesValue(written, analysis, source)
    return live ? [{ label, source, text: valueText(live, AS_MEASURED) }] : []
  })
}

function figures({ analysis }: NamedSeries): BlockChoice[] {
  const { series } = analysis
  return [
    ...inOrder(series.graphs).map(([id, graph]): BlockChoice => {
      const laws = analysis.fitsOf(id).length
      return {
        key: `graph ${id}`,
        title: graphTitle(analysis, graph),
        detail: `${analysis.points(graph).length} trials${laws > 0 ? `, ${laws === 1 ? '1 law' : `${laws} laws`}` : ''}`,
        content: graphBlock(id),
      }
    }),
    ...inOrder(series.motions).flatMap(([id, motion]): BlockChoice[] => [
      {
        key: `motions ${id}`,
        title: motionTitle(analysis, motion),
        detail: 'motions over each other',
        content: motionsBlock(id, 'graph'),
      },
      {
        key: `still ${id}`,
        title: 'All trials in one still',
        detail: 'bodies at the same moments',
        content: motionsBlock(id, 'still'),
      },
    ]),
  ]
}

function results(named: NamedSeries): BlockChoice[] {
  const laws = lawsOf(named)
  const { analysis } = named
  return [
    ...laws.flatMap(({ law, number, name }): BlockChoice[] => {
      const compared = comparedOf(law)
      const reading = readingLookedAt(law)
      return [
        {
          key: `fit ${law.id}`,
          title: `Law ${number}: ${lowered(name)}`,
          detail: 'formula, readings, RMSE',
          content: fitBlock(law.id),
        },
        ...(reading
          ? [
              {
                key: `reading ${law.id}`,
                title: `${reading.name}${ofLaw(laws, number)}`,
                detail: measurement(reading.value, reading.error, reading.unit),
                content: { kind: 'reading', fit: law.id, reading: reading.id, budget: true } as const,
              },
            ]
          : []),
        ...(compared
          ? [
              {
                key: `comparison ${law.id}`,
                title: `Comparison: ${lowered(compared.reading.name)}${ofLaw(laws, number)}`,
                detail: 'with the expected value',
                content: { kind: 'comparison', fit: law.id } as const,
              },
            ]
          : []),
      ]
    }),
    ...analysis.table.means().map(
      ({ column: { id, column, unit }, mean: { mean } }): BlockChoice => ({
        key: `mean ${id}`,
        title: `Mean of ${column.name}`,
        detail: measurement(mean.value, mean.error, unit),
        content: meanBlock(id),
      }),
    ),
    ...inOrder(analysis.series.calculations).map(
      ([id, { name, symbol, expression }]): BlockChoice => ({
        key: `calculation ${id}`,
        title: name || symbol,
        detail: `${symbol} = ${expression}`,
        content: calculationBlock(id),
      }),
    ),
  ]
}

/** Returns what of a series can be put into its report, in groups. */
export function seriesBlockChoices(named: NamedSeries): { group: string; choices: BlockChoice[] }[] {
  const count = Object.keys(named.analysis.series.trials).length
  const table: BlockChoice = {
    key: 'trials',
    title: 'Table of trials',
    detail: count === 1 ? '1 row' : `${count} rows`,
    content: trialsBlock(),
  }
  const method: BlockChoice = {
    key: 'method',
    title: 'How it was measured',
    detail: 'written from the facts',
    content: { kind: 'method', text: null, facts: seriesMethod(named) },
  }
  return [
    { group: 'Figures', choices: figures(named) },
    { group: 'Results', choices: results(named) },
    { group: 'Tables', choices: count > 0 ? [table] : [] },
    { group: 'Text', choices: [method] },
  ].filter(({ choices }) => choices.length > 0)
}
