import { describe, expect, it } from 'vitest'
import { full, graphBlock, id } from '../../testing/built.ts'
import {
  applyPatch,
  type BlockContent,
  checkInvestigation,
  edit,
  edits,
  type Investigation,
  inOrder,
  patchesMeet,
  plainText,
  readInvestigation,
} from '../index.ts'

const text = (words: string): BlockContent => ({
  kind: 'text',
  style: 'paragraph',
  indent: 0,
  inlines: words === '' ? [] : [plainText(words)],
})
const graph = graphBlock(id(4))
const [A, B, C, D] = [101, 102, 103, 104].map(id)
const three = () =>
  edit(
    full(),
    edits.appendBlocks([
      [A, text('one')],
      [B, graph],
      [C, text('three')],
    ]),
  ).document
const orderOf = ({ report }: Investigation) => inOrder(report.blocks).map(([key]) => key)

describe('blocks of a report', () => {
  it('are added at the end, behind another one and in front of all', () => {
    expect(orderOf(three())).toEqual([A, B, C])
    expect(orderOf(edit(three(), edits.addBlocks([[D, text('')]], A)).document)).toEqual([A, D, B, C])
    expect(orderOf(edit(three(), edits.addBlocks([[D, text('')]], null)).document)).toEqual([D, A, B, C])
    expect(orderOf(edit(three(), edits.addBlocks([[D, text('')]], id(999))).document)).toEqual([A, B, C, D])
  })

  it('are moved, and a move to the same place is no edit', () => {
    expect(orderOf(edit(three(), edits.moveBlock(C, null)).document)).toEqual([C, A, B])
    expect(orderOf(edit(three(), edits.moveBlock(A, B)).document)).toEqual([B, A, C])
    expect(edit(three(), edits.moveBlock(B, A)).patch).toEqual([])
    expect(edit(three(), edits.moveBlock(A, null)).patch).toEqual([])
    expect(edit(three(), edits.moveBlock(A, A)).patch).toEqual([])
  })

  it('keep their order when a hundred are put in at one place', () => {
    let document = three()
    const added: string[] = []
    for (let i = 0; i < 100; i++) {
      added.unshift(id(200 + i))
      document = edit(document, edits.addBlocks([[added[0], text(String(i))]], A)).document
    }
    expect(orderOf(document)).toEqual([A, ...added, B, C])
    expect(checkInvestigation(document)).toBe(document)
  })

  it('of two people never meet where they write in different ones', () => {
    const document = three()
    const mine = edit(document, edits.changeBlock(A, 'text', { inlines: [plainText('mine')] }))
    const theirs = edit(document, edits.changeBlock(C, 'text', { inlines: [plainText('theirs')] }))
    const added = edit(document, edits.addBlocks([[D, text('new')]], B))
    expect(patchesMeet(mine.patch, theirs.patch)).toBe(false)
    expect(patchesMeet(mine.patch, added.patch)).toBe(false)
    const both = applyPatch(applyPatch(document, mine.patch), theirs.patch)
    expect(both.report.blocks[A]).toMatchObject({ inlines: [{ text: 'mine' }] })
    expect(both.report.blocks[C]).toMatchObject({ inlines: [{ text: 'theirs' }] })
    const again = edit(document, edits.changeBlock(A, 'text', { inlines: [plainText('again')] }))
    expect(patchesMeet(mine.patch, again.patch)).toBe(true)
  })

  it('are changed by kind, pinned, removed, and all of it can be undone', () => {
    const steps = [
      edits.changeBlock(B, 'graph', { width: 0.5 }),
      edits.changeBlock(B, 'text', { indent: 2 }),
      edits.pinBlock(B, { at: '2026-11-30T00:00:00Z', shown: '{}' }),
      edits.setReport({ title: 'How fast does it fall?', paper: 'letter' }),
      edits.setBlocks({ [A]: null, [C]: { ...text('changed'), order: 7, pin: null } as never }),
      edits.removeBlocks([B]),
    ]
    let document = three()
    const inverses = steps.map((step) => {
      const edited = edit(document, step)
      document = edited.document
      return edited.inverse
    })
    expect(document.report.title).toBe('How fast does it fall?')
    expect(orderOf(document)).toEqual([C])
    expect(inverses.reduceRight(applyPatch, document)).toEqual(three())
  })
})

describe('a report', () => {
  const withBlock = (block: object) => {
    const document = JSON.parse(JSON.stringify(three()))
    document.report.blocks[D] = { order: 9, pin: null, ...block }
    return document
  }
  const piece = (inline: object) => withBlock({ ...text(''), inlines: [inline] })

  it.each([
    ['text', piece({ kind: 'text', text: 'Δ', marks: ['bold', 'italic'], link: 'https://fair.example/a?b' })],
    [
      'a value',
      piece({
        kind: 'value',
        source: { of: 'reading', fit: id(7), reading: 'acceleration' },
        format: { part: 'measurement', digits: null, withUnit: true },
      }),
    ],
    [
      'a value of a source that is gone',
      piece({
        kind: 'value',
        source: { of: 'mass', body: id(77) },
        format: { part: 'value', digits: 3, withUnit: false },
      }),
    ],
    ['an equation', piece({ kind: 'equation', tex: '\\frac{1}{2}\\mu' })],
    ['a question', withBlock({ kind: 'question', question: 'Why?', answer: [plainText('Because.')] })],
    ['a page break', withBlock({ kind: 'page-break' })],
    [
      'a table',
      withBlock({
        kind: 'table',
        bodies: [id(3)],
        columns: ['x', 'vx'],
        rows: null,
        rounded: true,
        errors: false,
        caption: null,
      }),
    ],
  ])('may hold %s', (_, document) => {
    expect(readInvestigation(document)).toEqual(document)
  })

  it.each([
    ['a link that runs a script', piece({ kind: 'text', text: 'a', marks: [], link: 'javascript:alert(1)' })],
    ['a link to data', piece({ kind: 'text', text: 'a', marks: [], link: 'data:text/html,x' })],
    ['the same mark twice', piece({ kind: 'text', text: 'a', marks: ['bold', 'bold'], link: null })],
    ['empty text', piece({ kind: 'text', text: '', marks: [], link: null })],
    ['more than a piece has', piece({ kind: 'line-break', onclick: 'x' })],
    ['markup', piece({ kind: 'html', html: '<b>' })],
    [
      'a value of nothing',
      piece({
        kind: 'value',
        source: { of: 'everything' },
        format: { part: 'value', digits: null, withUnit: true },
      }),
    ],
    ['endless text', piece({ kind: 'text', text: 'x'.repeat(20_001), marks: [], link: null })],
    ['endless TeX', withBlock({ kind: 'equation', tex: 'x'.repeat(2001) })],
    ['a figure wider than the page', withBlock({ ...graph, width: 1.5 })],
    ['a negative frame', withBlock({ kind: 'frame', frame: -1, width: 1, caption: null, alternative: null })],
    ['a block without its place', withBlock({ ...text('a'), order: null })],
    ['a pin without a date', withBlock({ ...text('a'), pin: { shown: '' } })],
  ])('is refused with %s', (_, document) => {
    expect(() => readInvestigation(document)).toThrow(RangeError)
  })

  it('keeps a block of an unknown kind as text, so that nothing of it is lost', () => {
    const document = withBlock({ kind: 'hologram', angle: 12 })
    const { report } = readInvestigation(document)
    expect(report.blocks[D]).toMatchObject({ kind: 'unknown', order: 9, pin: null })
    const block = report.blocks[D] as { original: string }
    expect(JSON.parse(block.original)).toEqual({ order: 9, pin: null, kind: 'hologram', angle: 12 })
    expect(report.blocks[A]).toEqual(three().report.blocks[A])
    // An edit can't bring one in.
    expect(() => checkInvestigation(document)).toThrow(RangeError)
  })

  it('is empty in documents from before there were reports', () => {
    const { report, ...before } = JSON.parse(JSON.stringify(full()))
    expect(report.blocks).toEqual({})
    expect(readInvestigation({ ...before, version: 10 })).toEqual(full())
  })
})
