import { analyse, type GraphFit } from '@apokinema/core/analysis'
import { nameTex } from '@apokinema/core/calculations'
import { type Estimate, shares, symbolTex, throwReadings } from '@apokinema/core/fitting'
import { lowered } from '@apokinema/core/graphs'
import {
  type Block,
  type BlockContent,
  bodyNames,
  type Inline,
  type Investigation,
  inOrder,
  type Pin,
} from '@apokinema/core/investigation'
import { type DataTable, dataTable } from '@apokinema/core/motion'
import { comparedReading, liveValue, readingOf, valueText } from '@apokinema/core/report'
import { fixed, measurement, rounded, significant, withUnit } from '@apokinema/core/units'
import { comparisonText } from '../comparisons.ts'
import { ERROR_SOURCES } from '../errorSources.ts'
import { expressionProblemText } from '../expressionProblems.ts'
import { closeness } from '../fitText.ts'
import { problemText } from '../problems.ts'
import { graphAlternative } from './alternativeText.ts'
import { digestOf } from './digest.ts'
import { methodText } from './methodText.ts'
import type { Run, Shown, ShownBlock } from './shown.ts'

type Content<K extends BlockContent['kind']> = Extract<Block, { kind: K }>

const NO_LONGER_THERE = 'no longer there'
const missing = (what: string): Shown => ({ kind: 'missing', text: `This ${what} is no longer there.` })

/** Kinds of blocks that are numbered, with their labels. */
const LABELS: Partial<Record<Block['kind'], string>> = {
  graph: 'Figure',
  frame: 'Figure',
  chronophotograph: 'Figure',
  image: 'Figure',
  table: 'Table',
  equation: 'Equation',
}

/** Returns the label of each numbered block, such as "Figure 2", by its id. */
export function blockLabels({ report }: Investigation): Map<string, string> {
  const counts = new Map<string, number>()
  return new Map(
    inOrder(report.blocks).flatMap(([id, { kind }]): [string, string][] => {
      const label = LABELS[kind]
      if (!label) return []
      const count = (counts.get(label) ?? 0) + 1
      counts.set(label, count)
      return [[id, `${label} ${count}`]]
    }),
  )
}

/** Shows blocks of one document. */
class Shower {
  private readonly labels: Map<string, string>

  constructor(private readonly document: Investigation) {
    this.labels = blockLabels(document)
  }

  /** Returns what a block shows, as its sources are now. */
  show(id: string, block: Block): Shown {
    switch (block.kind) {
      case 'text':
        return { kind: 'text', style: block.style, indent: block.indent, runs: this.runs(block.inlines) }
      case 'equation':
        return { kind: 'equation', tex: block.tex, label: this.labels.get(id)! }
      case 'graph':
        return this.graph(id, block)
      case 'frame':
        return this.frame(id, block)
      case 'chronophotograph':
        return this.chronophotograph(id, block)
      case 'image':
        return this.image(id, block)
      case 'fit':
        return this.fit(block)
      case 'reading':
        return this.reading(block)
      case 'comparison':
        return this.comparison(block)
      case 'calculation':
        return this.calculation(block)
      case 'table':
        return this.table(id, block)
      case 'method': {
        const facts = methodText(this.document)
        return {
          kind: 'method',
          text: block.text ?? facts,
          hasChanged: block.text !== null && block.facts !== facts,
        }
      }
      case 'question':
        return { kind: 'question', question: block.question, answer: this.runs(block.answer) }
      case 'page-break':
        return { kind: 'page-break' }
      case 'unknown':
        return { kind: 'unknown' }
    }
  }

  private runs(inlines: readonly Inline[]): Run[] {
    return inlines.map((inline): Run => {
      if (inline.kind === 'value') {
        const live = liveValue(this.document, inline.source)
        return {
          kind: 'value',
          text: live ? valueText(live, inline.format) : NO_LONGER_THERE,
          isMissing: live === null,
        }
      }
      if (inline.kind === 'reference') {
        const label = this.labels.get(inline.block)
        return {
          kind: 'reference',
          block: inline.block,
          text: label ?? NO_LONGER_THERE,
          isMissing: label === undefined,
        }
      }
      return inline
    })
  }

  private graph(id: string, block: Content<'graph'>): Shown {
    const { document } = this
    const graph = document.graphs[block.graph]
    const description = graph && analyse(document).graph(graph)
    if (!description) return missing('graph')
    const fits = block.fits ? analyse(document).fits(block.graph) : []
    const names = bodyNames(document.bodies)
    const nameOf = (body: string) => names[body] ?? ''
    const written = graphAlternative(description, fits, nameOf)
    const models = fits.flatMap(({ fit, settings }) => (fit ? [lowered(settings.name || fit.name)] : []))
    const whose = [...new Set(description.series.map(({ body }) => nameOf(body)))].join(' and ')
    const caption = `${description.title}${description.isTime ? ' against time' : ''}, ${whose}${models.length > 0 ? `, with the fit: ${models.join('; ')}` : ''}.`
    const { ratio, title, errorBars } = block
    return {
      kind: 'figure',
      picture: { of: 'graph', graph: block.graph, ratio, title, fits: block.fits, errorBars },
      width: block.width,
      label: this.labels.get(id)!,
      caption: block.caption ?? caption,
      alternative: block.alternative ?? written,
      digest: digestOf([
        description.series.map(({ points }) => points.map(({ x, y, errorY }) => [x, y, errorY])),
        fits.map(({ all }) =>
          all.map(({ parameters }) => parameters.map(({ value, error }) => [value, error])),
        ),
      ]),
    }
  }

  private frame(id: string, block: Content<'frame'>): Shown {
    const { footage, bodies } = this.document
    if (!footage) return missing('picture')
    const marked = inOrder(bodies).flatMap(([, { name, marks }]) => {
      const mark = marks[block.frame]
      return mark ? [{ name, x: mark.x, y: mark.y }] : []
    })
    const names = marked.map(({ name }) => name).join(' and ')
    const written = `Frame ${block.frame} of the clip${names ? `, with the mark of ${names}` : ''}.`
    return {
      kind: 'figure',
      picture: { of: 'frame', frame: block.frame },
      width: block.width,
      label: this.labels.get(id)!,
      caption: block.caption ?? written,
      alternative: block.alternative ?? written,
      digest: digestOf([footage.id, block.frame, marked]),
    }
  }

  private chronophotograph(id: string, block: Content<'chronophotograph'>): Shown {
    const { footage, bodies } = this.document
    const marked = inOrder(bodies).filter(([, { marks }]) => Object.keys(marks).length > 0)
    if (!footage || marked.length === 0) return missing('picture')
    const names = marked.map(([, { name }]) => name).join(' and ')
    const which = block.every === 1 ? 'all marks' : `one in ${block.every} marks`
    const arrows = block.arrows === 'none' ? '' : `, with the ${block.arrows} as arrows`
    const written = `Positions of ${names} at ${which} in one still${arrows}.`
    const { every, arrows: kind, grid } = block
    return {
      kind: 'figure',
      picture: { of: 'chronophotograph', every, arrows: kind, grid },
      width: block.width,
      label: this.labels.get(id)!,
      caption: block.caption ?? written,
      alternative: block.alternative ?? written,
      digest: digestOf([footage.id, every, kind, grid, marked.map(([, { marks }]) => marks)]),
    }
  }

  private image(id: string, { data, name, width, caption, alternative }: Content<'image'>): Shown {
    const written = name.replace(/\.[a-z]{1,5}$/i, '')
    return {
      kind: 'figure',
      picture: { of: 'photo', data },
      width,
      label: this.labels.get(id)!,
      caption: caption ?? written,
      alternative: alternative ?? written,
      // Its end is enough: two compressed pictures of one length differ there, too.
      digest: digestOf([data.length, data.slice(-1000)]),
    }
  }

  private fitOf(id: string): { fit: GraphFit; what: string } | null {
    const fit = analyse(this.document).fit(id)
    if (!fit) return null
    const graph = this.document.graphs[fit.range.graph]
    const body = this.document.bodies[graph.body]?.name ?? ''
    const quantity = analyse(this.document).quantity(graph.quantity)?.name ?? ''
    return { fit, what: `${quantity} of ${body}` }
  }

  private fit({ fit: id, parameters, closeness: hasCloseness, residuals }: Content<'fit'>): Shown {
    const found = this.fitOf(id)
    if (!found) return missing('fit')
    const { fit, what } = found
    const title = `${fit.settings.name || (fit.fit?.name ?? 'Fit')}: ${lowered(what)}, frames ${fit.range.from} to ${fit.range.to}`
    if (!fit.fit)
      return {
        kind: 'result',
        title,
        tex: [],
        rows: [],
        sentences: fit.error ? [problemText(fit.error)] : [],
        residuals: null,
      }
    const tex = fit.all.flatMap(({ quantity, loop, formula, numbers }) => {
      const left = loop ? '' : `${symbolTex(quantity.symbol, quantity.subscript)} = `
      return formula === '' ? [] : [left + formula, left + numbers]
    })
    const shownParameters = fit.all.flatMap(({ parameters: all }) =>
      all.map(({ symbol, subscript, value, error, unit, isFixed }): [string, string] => [
        symbol + subscript,
        isFixed ? `${withUnit(significant(value, 6), unit)} (fixed)` : measurement(value, error, unit),
      ]),
    )
    const chi = fit.fit.solution.reducedChiSquare
    const rows: [string, string][] = [
      ...(parameters ? shownParameters : []),
      ...(hasCloseness ? [['RMSE', closeness(fit.fit)] as [string, string]] : []),
      ...(hasCloseness && chi !== null
        ? [['χ²/ν', `${significant(chi, 2)}, ${fit.fit.freedom} degrees of freedom`] as [string, string]]
        : []),
      ...throwReadings(fit.all).map(({ name, value, error, unit }): [string, string] => [
        name,
        measurement(value, error, unit),
      ]),
    ]
    return { kind: 'result', title, tex, rows, sentences: [], residuals: residuals ? id : null }
  }

  private reading({ fit: id, reading: key, budget }: Content<'reading'>): Shown {
    const found = this.fitOf(id)
    const reading = found && readingOf(found.fit, key)
    if (!reading) return missing('reading')
    const { name, value, error, unit } = reading
    return {
      kind: 'result',
      title: `${lowered(found.what).replace(/^./, (first) => first.toUpperCase())}`,
      tex: [],
      rows: [[name, measurement(value, error, unit)]],
      sentences: budget ? budgetSentences(reading) : [],
      residuals: null,
    }
  }

  private comparison({ fit: id }: Content<'comparison'>): Shown {
    const found = this.fitOf(id)
    const compared = found && comparedReading(found.fit)
    if (!compared) return missing('comparison')
    const { reading, against } = compared
    const expected = liveValue(this.document, { of: 'fit-comparison', fit: id, value: 'expected' })
    const format = { part: 'measurement', digits: null, withUnit: true } as const
    return {
      kind: 'result',
      title: 'Comparison with the expected value',
      tex: [],
      rows: [
        [reading.name, measurement(reading.value, reading.error, reading.unit)],
        ['Expected', expected ? valueText(expected, format) : NO_LONGER_THERE],
      ],
      sentences: against.kind === 'reading' ? [] : [comparisonText(this.document, reading, against)],
      residuals: null,
    }
  }

  private calculation({ calculation: id, budget }: Content<'calculation'>): Shown {
    const shown = analyse(this.document).calculation(id)
    if (!shown) return missing('calculation')
    const { calculation, result, error } = shown
    const title = calculation.name || calculation.symbol
    if (!result)
      return {
        kind: 'result',
        title,
        tex: [],
        rows: [],
        sentences: error ? [expressionProblemText(error)] : [],
        residuals: null,
      }
    const left = `${nameTex(calculation.symbol)} = `
    const { against } = calculation
    const compared =
      against && against.kind !== 'reading' ? [comparisonText(this.document, result, against)] : []
    return {
      kind: 'result',
      title,
      tex: [left + result.formula, left + result.numbers],
      rows: [[calculation.symbol, measurement(result.value, result.error, result.unit)]],
      sentences: [...compared, ...(budget ? budgetSentences(result) : [])],
      residuals: null,
    }
  }

  private table(id: string, block: Content<'table'>): Shown {
    const { document } = this
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
      label: this.labels.get(id)!,
      caption:
        block.caption ?? `Motion of ${names.join(' and ')}${even ? ', interpolated between the marks' : ''}.`,
      ...tableTexts(data, block, bodies.length > 1 ? bodyNames(document.bodies) : null),
    }
  }
}

/** Returns a data table as texts: a column with errors is followed by one of them. */
function tableTexts(
  { times, columns }: DataTable,
  { rounded: isRounded, errors: hasErrors }: { rounded: boolean; errors: boolean },
  names: Record<string, string> | null,
): { head: string[]; rows: string[][] } {
  const head = columns.flatMap(({ body, symbol, subscript, unit }) => {
    const symbolText = `${symbol}${subscript && `_${subscript}`}`
    const text = `${names ? `${names[body]}: ` : ''}${symbolText}${unit ? ` (${unit})` : ''}`
    return hasErrors ? [text, `± ${symbolText}`] : [text]
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
  return { head: ['t (s)', ...head], rows }
}

/** Returns the error budget in a sentence; nothing where there is no error. */
function budgetSentences(reading: Estimate): string[] {
  const parts = shares(reading)
    .sort((a, b) => b.share - a.share)
    .filter(({ share }) => share >= 0.005)
    .map(({ source, share }) => `${ERROR_SOURCES[source]} ${withUnit(String(Math.round(100 * share)), '%')}`)
  return parts.length > 0 ? [`Of the error: ${parts.join(', ')}.`] : []
}

/** What pinned blocks showed, read once for each state of a block. */
const pinnedOf = new WeakMap<Block, { shown: Shown | null }>()

/** Returns what a pinned block showed; null if its record can't be read. */
function pinnedShown(block: Block): Shown | null {
  if (!block.pin) return null
  const known = pinnedOf.get(block) ?? { shown: readPin(block.pin) }
  pinnedOf.set(block, known)
  return known.shown
}

function readPin(pin: Pin): Shown | null {
  try {
    const shown = JSON.parse(pin.shown) as Shown
    return typeof shown === 'object' && shown !== null && typeof shown.kind === 'string' ? shown : null
  } catch {
    return null
  }
}

/** Returns what all blocks of a report show, in order: pinned ones as they were, the others as their sources are now. */
export function showReport(document: Investigation): ShownBlock[] {
  const shower = new Shower(document)
  return inOrder(document.report.blocks).map(([id, block]) => {
    const pinned = pinnedShown(block)
    return { id, pinned: pinned && block.pin!.at, shown: pinned ?? shower.show(id, block) }
  })
}

/** Returns what one block shows as its sources are now, whether it is pinned or not; null if it is gone. */
export function showBlock(document: Investigation, id: string): Shown | null {
  const block = document.report.blocks[id]
  return block ? new Shower(document).show(id, block) : null
}
