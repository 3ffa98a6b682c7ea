import {
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
  const format = { part: 'measurement', digits: null, withUnit: true } as const
  return {
    kind: 'text',
    style: 'paragraph',
    indent: 0,
    inlines: [
      plainText(`${first.label.replace(/, stretch \d+$/, '')}: `),
      { kind: 'value', source: first.source, format },
      plainText('.'),
    ],
  }
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
        ...first('table'),
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
