import { analyse, type GraphFit } from '@apokinema/core/analysis'
import { namedReadings } from '@apokinema/core/fitting'
import { lowered } from '@apokinema/core/graphs'
import {
  AS_MEASURED,
  type BlockContent,
  type Investigation,
  inOrder,
  type ValueSource,
  wholeRange,
} from '@apokinema/core/investigation'
import { comparedReading, liveValue, valueText } from '@apokinema/core/report'
import { measurement } from '@apokinema/core/units'
import { methodText } from './methodText.ts'

/** A value that can be put into a text. */
export interface ValueChoice {
  label: string
  source: ValueSource
  /** The value as it is now. */
  text: string
}

/** Something that can be put into a report as a block. */
export interface BlockChoice {
  key: string
  title: string
  detail: string
  content: BlockContent
}

/** A figure as it is at first. */
export const FIGURE = { width: 1, caption: null, alternative: null }
/** Height over width of a graph as it is at first. */
export const GRAPH_RATIO = 0.55

/** Returns a block with a graph as it is at first: over the full width, with its fits. */
export function graphBlock(graph: string): BlockContent {
  return {
    kind: 'graph',
    graph,
    ratio: GRAPH_RATIO,
    title: null,
    fits: true,
    errorBars: null,
    rangeX: wholeRange(),
    rangeY: wholeRange(),
    ...FIGURE,
  }
}

/** Returns a block with the picture of a frame. */
export function frameBlock(frame: number): BlockContent {
  return { kind: 'frame', frame, ...FIGURE }
}

/** Returns a block with a fit: formula, parameters and closeness. */
export function fitBlock(fit: string): BlockContent {
  return { kind: 'fit', fit, parameters: true, closeness: true, residuals: false }
}

/** Returns a block with a calculation and its error budget. */
export function calculationBlock(calculation: string): BlockContent {
  return { kind: 'calculation', calculation, budget: true }
}

/** Returns a block with a table: a row per mark, or evenly spaced rows. */
export function tableBlock(bodies: string[], columns: string[], rows: number | null = null): BlockContent {
  return { kind: 'table', bodies, columns, rows, rounded: true, errors: false, caption: null }
}

/** Returns the fits of an investigation that have a result, with the number of their stretch. */
function fitsOf(document: Investigation): { fit: GraphFit; number: number; name: string }[] {
  return analyse(document)
    .allFits()
    .flatMap((fit) =>
      fit.fit ? [{ fit, number: fit.range.number, name: fit.settings.name || fit.fit.name }] : [],
    )
}

/** Returns the words that tell a fit from others; empty for the only one. */
const inStretch = (fits: readonly unknown[], number: number) => (fits.length > 1 ? `, stretch ${number}` : '')

/**
 * Returns the values of what a fit is compared with, by what they are called.
 *
 * @param which tells the fit from others
 */
export const comparedValues = (fit: string, which: string): [string, ValueSource][] => [
  [`Deviation from the expected value${which}`, { of: 'fit-comparison', fit, value: 'percent' }],
  [`Expected value${which}`, { of: 'fit-comparison', fit, value: 'expected' }],
  [`Standard errors apart${which}`, { of: 'fit-comparison', fit, value: 'standard-errors' }],
]

/** Returns the values that can stand in a text, with what they are now: readings first. */
export function valueChoices(document: Investigation): ValueChoice[] {
  const fits = fitsOf(document)
  const choices: [string, ValueSource][] = [
    ...fits.flatMap(({ fit, number }) =>
      namedReadings(fit.all).map(({ id, name }): [string, ValueSource] => [
        `${name}${inStretch(fits, number)}`,
        { of: 'reading', fit: fit.id, reading: id },
      ]),
    ),
    ...fits.flatMap(({ fit, number }): [string, ValueSource][] =>
      comparedReading(fit) ? comparedValues(fit.id, inStretch(fits, number)) : [],
    ),
    ...inOrder(document.calculations).map(([id, { name, symbol }]): [string, ValueSource] => [
      name || symbol,
      { of: 'calculation', calculation: id },
    ]),
    ...fits.flatMap(({ fit, number, name }): [string, ValueSource][] => [
      ...(fit.fit?.parameters ?? []).map(({ key, name: what }): [string, ValueSource] => [
        `${what.replace(/^./, (first) => first.toUpperCase())} (${lowered(name)}${inStretch(fits, number)})`,
        { of: 'parameter', fit: fit.id, parameter: key },
      ]),
      [`RMSE${inStretch(fits, number)}`, { of: 'statistic', fit: fit.id, statistic: 'rmse' }],
      [`R²${inStretch(fits, number)}`, { of: 'statistic', fit: fit.id, statistic: 'r-squared' }],
      [`Points fitted${inStretch(fits, number)}`, { of: 'statistic', fit: fit.id, statistic: 'points' }],
    ]),
    ...inOrder(document.references).map(([id, { name }]): [string, ValueSource] => [
      `Length of ${name}`,
      { of: 'reference', reference: id },
    ]),
    ['Scale', { of: 'scale' }],
    ['Frame rate', { of: 'frame-rate' }],
    ...inOrder(document.bodies).flatMap(([id, { name }]): [string, ValueSource][] => [
      [`Name of ${name}`, { of: 'body-name', body: id }],
      [`Mass of ${name}`, { of: 'mass', body: id }],
      [`Marks of ${name}`, { of: 'marks', body: id }],
    ]),
    ...inOrder(document.probes).map(([id, { name }]): [string, ValueSource] => [
      name,
      { of: 'probe', probe: id },
    ]),
    ...inOrder(document.constants).map(([id, { name }]): [string, ValueSource] => [
      name,
      { of: 'constant', constant: id },
    ]),
    ['Acceleration of free fall', { of: 'free-fall' }],
    ['Title', { of: 'title' }],
  ]
  return choices.flatMap(([label, source]) => {
    const live = liveValue(document, source)
    return live ? [{ label, source, text: valueText(live, AS_MEASURED) }] : []
  })
}

/** Returns the first frame in which something is marked; null if nothing is. */
export function firstMark({ bodies }: Investigation): number | null {
  const frames = Object.values(bodies).flatMap(({ marks }) => Object.keys(marks).map(Number))
  return frames.length > 0 ? frames.reduce((least, frame) => Math.min(least, frame)) : null
}

function figures(document: Investigation): BlockChoice[] {
  const { footage, bodies, graphs } = document
  const first = firstMark(document)
  const graphChoices = inOrder(graphs).flatMap(([id, graph]): BlockChoice[] => {
    const description = analyse(document).graph(graph)
    if (!description || description.series.length === 0) return []
    const points = description.series[0].points.length
    const fits = analyse(document).fits(id).length
    return [
      {
        key: `graph ${id}`,
        title: description.title,
        detail: `${bodies[graph.body].name}, ${points} points${fits > 0 ? `, ${fits === 1 ? '1 fit' : `${fits} fits`}` : ''}`,
        content: graphBlock(id),
      },
    ]
  })
  return [
    ...graphChoices,
    ...(footage && first !== null
      ? [
          {
            key: 'frame',
            title: 'Picture of a frame',
            detail: `frame ${first}, marks, scale, axes`,
            content: frameBlock(first),
          },
          {
            key: 'chronophotograph',
            title: 'All positions in one still',
            detail: 'every 3rd mark',
            content: { kind: 'chronophotograph', every: 3, arrows: 'none', grid: false, ...FIGURE } as const,
          },
        ]
      : []),
  ]
}

function results(document: Investigation): BlockChoice[] {
  const fits = fitsOf(document)
  return [
    ...fits.flatMap(({ fit, number, name }): BlockChoice[] => {
      const stretch = inStretch(fits, number)
      const [reading] = namedReadings(fit.all)
      const compared = comparedReading(fit)
      return [
        {
          key: `fit ${fit.id}`,
          title: `Fit ${number}: ${lowered(name)}`,
          detail: 'formula, parameters, RMSE',
          content: fitBlock(fit.id),
        },
        {
          key: `reading ${fit.id}`,
          title: `${reading.name}${stretch}`,
          detail: measurement(reading.value, reading.error, reading.unit),
          content: { kind: 'reading', fit: fit.id, reading: reading.id, budget: true },
        },
        ...(compared
          ? [
              {
                key: `comparison ${fit.id}`,
                title: `Comparison: ${lowered(compared.reading.name)}${stretch}`,
                detail:
                  compared.against.kind === 'reading' ? 'with another reading' : 'with the expected value',
                content: { kind: 'comparison', fit: fit.id } as const,
              },
            ]
          : []),
      ]
    }),
    ...inOrder(document.calculations).flatMap(
      ([id, { name, symbol, expression, against }]): BlockChoice[] => [
        {
          key: `calculation ${id}`,
          title: name || symbol,
          detail: `${symbol} = ${expression}`,
          content: calculationBlock(id),
        },
        ...(against
          ? [
              {
                key: `calculation-comparison ${id}`,
                title: `Comparison: ${name || symbol}`,
                detail: 'with the expected value',
                content: { kind: 'calculation-comparison', calculation: id } as const,
              },
            ]
          : []),
      ],
    ),
  ]
}

function tables({ bodies }: Investigation): BlockChoice[] {
  return inOrder(bodies).flatMap(([id, { name, marks }]): BlockChoice[] => {
    const count = Object.keys(marks).length
    if (count === 0) return []
    const columns = ['x', 'y', 'vx', 'vy']
    return [
      {
        key: `table ${id}`,
        title: `Table of ${name}`,
        detail: `t, x, y, vx, vy · ${count} rows`,
        content: tableBlock([id], columns),
      },
    ]
  })
}

/** Returns what of an investigation can be put into its report, in groups. */
export function blockChoices(document: Investigation): { group: string; choices: BlockChoice[] }[] {
  const method: BlockChoice = {
    key: 'method',
    title: 'How it was measured',
    detail: 'written from the facts',
    content: { kind: 'method', text: null, facts: methodText(document) },
  }
  return [
    { group: 'Figures', choices: figures(document) },
    { group: 'Results', choices: results(document) },
    { group: 'Tables', choices: tables(document) },
    { group: 'Text', choices: [method] },
  ].filter(({ choices }) => choices.length > 0)
}
