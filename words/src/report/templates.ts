import {
  AS_MEASURED,
  type BlockContent,
  type Investigation,
  plainText,
  type TextStyle,
} from '@apokinema/core/investigation'
import { blockChoices, valueChoices } from './choices.ts'

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

/** Returns a sentence with the first reading of the investigation as a live value; an empty paragraph without a fit. */
function resultSentence(document: Investigation): BlockContent {
  const first = valueChoices(document).find(({ source }) => source.of === 'reading')
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

/** Returns the blocks of a template, already linked to the investigation. */
export function templateBlocks(document: Investigation, template: TemplateId): BlockContent[] {
  const all = blockChoices(document).flatMap(({ choices }) => choices.map(({ content }) => content))
  const first = (kind: BlockContent['kind'], most = 1) =>
    all.filter((one) => one.kind === kind).slice(0, most)
  const method = first('method')
  switch (template) {
    case 'blank':
      return [empty()]
    case 'one-page':
      return [
        heading('Result'),
        ...first('graph'),
        resultSentence(document),
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
        ...first('table').map((block) => fittingTable(document, block)),
        heading('Analysis'),
        ...first('graph', 2),
        ...first('fit'),
        resultSentence(document),
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
