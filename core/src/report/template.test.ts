import { describe, expect, it } from 'vitest'
import {
  AS_MEASURED,
  type BlockContent,
  edit,
  edits,
  type Investigation,
  newInvestigation,
  plainText,
} from '../investigation/index.ts'
import { graphBlock } from '../testing/built.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { fillTemplate, readTemplate, templateOf } from './index.ts'

const id = (n: number) => `00000000-0000-4000-8000-0000000000${n}`
const [STRETCH, FIT, CALCULATION, TEXT, GRAPH] = [10, 11, 12, 20, 21].map(id)
const BLOCKS: [string, BlockContent][] = [
  [
    TEXT,
    {
      kind: 'text',
      style: 'paragraph',
      indent: 0,
      inlines: [
        plainText('As '),
        { kind: 'reference', block: GRAPH },
        plainText(' shows, it is '),
        { kind: 'value', source: { of: 'reading', fit: FIT, reading: 'acceleration' }, format: AS_MEASURED },
      ],
    },
  ],
  [GRAPH, { ...graphBlock(THROWN.velocity), caption: 'Ours.' }],
  [id(22), { kind: 'fit', fit: FIT, parameters: true, closeness: true, residuals: true }],
  [id(23), { kind: 'reading', fit: FIT, reading: 'acceleration', budget: true }],
  [id(24), { kind: 'calculation', calculation: CALCULATION, budget: true }],
  [
    id(25),
    {
      kind: 'table',
      bodies: [THROWN.body],
      columns: ['x'],
      rows: null,
      rounded: true,
      errors: false,
      caption: null,
    },
  ],
  [id(26), { kind: 'question', question: 'What slowed it?', answer: [plainText('The air.')] }],
  [id(27), { kind: 'method', text: 'We filmed it.', facts: 'Facts.' }],
]

/** Returns the throw with a fit of its height and the report. */
function reported(): Investigation {
  return edit(thrown({}), (draft) => {
    edits.addStretch(STRETCH, THROWN.position, 0, 49)(draft)
    edits.addFit(FIT, STRETCH, 'uniform-acceleration')(draft)
    const calculation = { symbol: 'k', name: '', expression: 'a_1/g', unit: '', against: null }
    edits.setCalculation(CALCULATION, calculation)(draft)
    edits.appendBlocks(BLOCKS)(draft)
  }).document
}

/** Returns the same investigation as somebody else would have it: all its things have other ids. */
function elsewhere(document: Investigation): Investigation {
  const text = JSON.stringify(document).replaceAll('-8000-0000000000', '-9000-0000000000')
  return JSON.parse(
    text.replaceAll('00000000-0000-4000-9000-0000000000a1', '00000000-0000-4000-8000-0000000000a1'),
  )
}
const there = (one: string) => one.replace('-8000-', '-9000-')

/** Returns ids that count up. */
function counting(): () => string {
  let n = 50
  return () => id(n++)
}

describe('a template', () => {
  const template = templateOf(reported(), 'Lab report of our class')

  it('is linked to what another investigation has, and texts refer to its own figures', () => {
    const filled = fillTemplate(elsewhere(reported()), template, counting())
    expect(filled.map(([, { kind }]) => kind)).toEqual(BLOCKS.map(([, { kind }]) => kind))
    const [, [graphId, graph], [, fit], [, reading], [, calculation], [, table]] = filled
    expect(graph).toMatchObject({ graph: there(THROWN.velocity), caption: null })
    expect(fit).toMatchObject({ fit: there(FIT), residuals: true })
    expect(reading).toMatchObject({ fit: there(FIT), reading: 'acceleration' })
    expect(calculation).toMatchObject({ calculation: there(CALCULATION) })
    expect(table).toMatchObject({ bodies: [there(THROWN.body)] })
    expect(filled[0][1]).toMatchObject({
      inlines: [
        { text: 'As ' },
        { kind: 'reference', block: graphId },
        { text: ' shows, it is ' },
        { kind: 'value', source: { of: 'reading', fit: there(FIT), reading: 'acceleration' } },
      ],
    })
  })

  it('keeps questions without their answers, and leaves what was written of one clip to the facts', () => {
    const kept = template.blocks.map(([, content]) => content)
    expect(kept).toContainEqual({ kind: 'question', question: 'What slowed it?', answer: [] })
    expect(kept).toContainEqual({ kind: 'method', text: null, facts: '' })
  })

  it('leaves out what an investigation has nothing like, and leaves values open', () => {
    const filled = fillTemplate(newInvestigation('Empty'), template, counting())
    expect(filled.map(([, { kind }]) => kind)).toEqual(['text', 'question', 'method'])
    expect(filled[0][1]).toMatchObject({
      inlines: [{ text: 'As ' }, { text: ' shows, it is ' }, { text: '…' }],
    })
  })

  it('takes what is most like its own: the model counts more than the place', () => {
    const two = edit(reported(), (draft) => {
      edits.addStretch(id(30), THROWN.velocity, 0, 49)(draft)
      edits.addFit(id(31), id(30), 'uniform')(draft)
      edits.removeFit(FIT)(draft)
      edits.addFit(id(32), STRETCH, 'uniform-acceleration')(draft)
    }).document
    const filled = fillTemplate(two, template, counting())
    expect(filled.find(([, { kind }]) => kind === 'fit')?.[1]).toMatchObject({ fit: id(32) })
  })

  it('is read from JSON as it was; anything else is refused', () => {
    expect(readTemplate(JSON.parse(JSON.stringify(template)))).toEqual(template)
    const broken: unknown[] = [
      null,
      'x',
      [],
      {},
      { ...template, name: '' },
      { ...template, name: 'x'.repeat(101) },
      { ...template, blocks: [] },
      { ...template, blocks: [[TEXT, { kind: 'text' }]] },
      { ...template, blocks: [[TEXT]] },
      { ...template, named: { [FIT]: { kind: 'constructor', place: 0, traits: [] } } },
      { ...template, named: null },
      { ...template, more: 1 },
    ]
    for (const value of broken) expect(() => readTemplate(value)).toThrow(RangeError)
  })
})
