import {
  AS_MEASURED,
  type BlockContent,
  type Investigation,
  plainText,
  type TextStyle,
} from '@apokinema/core/investigation'
import { type BlockChoice, blockChoices, type ValueChoice, valueChoices } from './choices.ts'
import { seriesBlockChoices, seriesValueChoices } from './seriesChoices.ts'
import type { NamedSeries } from './seriesSubject.ts'

export const TEMPLATE_IDS = ['lab-report', 'one-page', 'blank'] as const
export type TemplateId = (typeof TEMPLATE_IDS)[number]

/** What a template is called, and what it is for. */
export const TEMPLATES: Record<TemplateId, { name: string; about: string }> = {
  'lab-report': {
    name: 'Lab report',
    about: 'Question, set-up, method, data, analysis, uncertainty, comparison, conclusion.',
  },
  'one-page': { name: 'One-page result', about: 'A graph, the result and how it was measured.' },
  blank: { name: 'Blank page', about: 'Begin with your own words.' },
}

const text = (style: TextStyle, words: string): BlockContent => ({
  kind: 'text',
  style,
  indent: 0,
  inlines: words === '' ? [] : [plainText(words)],
})
const heading = (words: string) => text('heading', words)
const empty = () => text('paragraph', '')

/** What a template can link to: blocks and values of what the report is written of, the most important first. */
interface Offer {
  blocks: BlockContent[]
  values: ValueChoice[]
}

/** Returns a sentence with the first reading or mean as a live value; an empty paragraph without one. */
function resultSentence({ values }: Offer): BlockContent {
  const first = values.find(({ source }) => source.of === 'reading' || source.of === 'column')
  if (!first) return empty()
  return {
    kind: 'text',
    style: 'paragraph',
    indent: 0,
    inlines: [
      plainText(`${first.label.replace(/, stretch \d+$/, '')}: `),
      { kind: 'value', source: first.source, format: AS_MEASURED },
      plainText('.'),
    ],
  }
}

/** Marks beyond which a table of a template has evenly spaced rows, and the number of them: longer ones nobody reads on paper. */
const LONG_TABLE = { marks: 40, rows: 20 }

/** Returns a table as a template has it. */
function fittingTable(document: Investigation, block: BlockContent): BlockContent {
  if (block.kind !== 'table') return block
  const marks = block.bodies.map((body) => Object.keys(document.bodies[body].marks).length)
  return Math.max(...marks) > LONG_TABLE.marks ? { ...block, rows: LONG_TABLE.rows } : block
}

const contents = (groups: readonly { choices: BlockChoice[] }[]) =>
  groups.flatMap(({ choices }) => choices.map(({ content }) => content))

/** Returns the blocks of a template, already linked to the investigation. */
export function templateBlocks(document: Investigation, template: TemplateId): BlockContent[] {
  const blocks = contents(blockChoices(document)).map((block) => fittingTable(document, block))
  return filled({ blocks, values: valueChoices(document) }, template)
}

/** Returns the blocks of a template, already linked to the series. */
export function seriesTemplateBlocks(named: NamedSeries, template: TemplateId): BlockContent[] {
  return filled({ blocks: contents(seriesBlockChoices(named)), values: seriesValueChoices(named) }, template)
}

function filled(offer: Offer, template: TemplateId): BlockContent[] {
  const first = (kind: BlockContent['kind'], most = 1) =>
    offer.blocks.filter((one) => one.kind === kind).slice(0, most)
  const method = first('method')
  switch (template) {
    case 'blank':
      return [empty()]
    case 'one-page':
      return [
        heading('Result'),
        ...first('graph'),
        resultSentence(offer),
        ...first('comparison'),
        heading('Method'),
        ...method,
      ]
    case 'lab-report':
      return [
        heading('Question'),
        empty(),
        heading('Set-up'),
        empty(),
        ...first('chronophotograph'),
        heading('Method'),
        ...method,
        heading('Data'),
        ...first('table'),
        ...first('trials'),
        heading('Analysis'),
        ...first('motions'),
        ...first('graph', 2),
        ...first('fit'),
        ...first('mean'),
        resultSentence(offer),
        heading('Uncertainty'),
        ...first('reading'),
        empty(),
        heading('Comparison'),
        ...first('comparison'),
        empty(),
        heading('Conclusion'),
        empty(),
      ]
  }
}
