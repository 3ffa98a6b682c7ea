import { type Block, type ById, type Inline, inOrder, plainText } from '@apokinema/core/investigation'
import { graphBlock } from '@apokinema/core/testing/built'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { changedBlocks, editorContent, ordersFor } from './convert.ts'

const text = (order: number, ...inlines: Inline[]): Block => ({
  kind: 'text',
  style: 'paragraph',
  indent: 0,
  inlines,
  order,
  pin: null,
})
const graph = (order: number): Block => ({ ...graphBlock('g'), order, pin: null })

describe('orders of blocks', () => {
  it('are kept where they fit, so that a moved block is the only one that changes', () => {
    const orders = new Map([
      ['a', 0],
      ['b', 1],
      ['c', 2],
      ['d', 3],
    ])
    expect(ordersFor(['a', 'd', 'b', 'c'], orders)).toEqual([0, 0.5, 1, 2])
    expect(ordersFor(['b', 'c', 'd', 'a'], orders)).toEqual([1, 2, 3, 4])
    expect(ordersFor(['x', 'a', 'y', 'z', 'b'], orders)).toEqual([-1, 0, 1 / 3, 2 / 3, 1])
    expect(ordersFor(['x', 'y'], new Map())).toEqual([0, 1])
  })

  it('increase along any sequence', () => {
    fc.assert(
      fc.property(
        fc.shuffledSubarray(['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h']),
        fc.array(fc.integer({ min: 0, max: 4 }), { minLength: 8, maxLength: 8 }),
        (ids, numbers) => {
          const known = new Map(['a', 'b', 'c', 'd', 'e'].map((id, i) => [id, numbers[i]]))
          const found = ordersFor(ids, known)
          expect(found.every((order, i) => i === 0 || order > found[i - 1])).toBe(true)
        },
      ),
    )
  })
})

describe('what writing has changed', () => {
  const value: Inline = {
    kind: 'value',
    source: { of: 'title' },
    format: { part: 'measurement', digits: null, withUnit: true },
  }
  const blocks: ById<Block> = {
    a: text(0, plainText('The title is '), value, {
      kind: 'text',
      text: 'x',
      marks: ['bold', 'superscript'],
      link: 'https://fair.example/',
    }),
    b: graph(1),
    c: {
      kind: 'question',
      question: 'Why?',
      answer: [{ kind: 'equation', tex: '\\mu' }, { kind: 'line-break' }, { kind: 'reference', block: 'b' }],
      order: 2,
      pin: null,
    },
    d: text(3),
  }

  it('is nothing where nothing was written: all pieces come back as they were', () => {
    expect(changedBlocks(editorContent(blocks), blocks)).toEqual({})
    // Neither has a block whose fields come in another order, as the database hands them out.
    const turned = <T>(value: T): T =>
      JSON.parse(JSON.stringify(value), (_, part) =>
        part && typeof part === 'object' && !Array.isArray(part)
          ? Object.fromEntries(Object.entries(part).reverse())
          : part,
      )
    expect(changedBlocks(editorContent(turned(blocks)), turned(blocks))).toEqual({})
    expect(changedBlocks(editorContent(blocks), turned(blocks))).toEqual({})
  })

  it('is the block that was written in', () => {
    const nodes = editorContent(blocks)
    nodes[3] = { ...nodes[3], content: [{ type: 'text', text: 'new' }] }
    expect(changedBlocks(nodes, blocks)).toEqual({ d: text(3, plainText('new')) })
  })

  it('is a new block between others, and a removed one', () => {
    const nodes = editorContent(blocks)
    nodes.splice(1, 2, { type: 'textBlock', attrs: { id: 'n', style: 'heading', indent: 0 } })
    const changed = changedBlocks(nodes, blocks)
    expect(changed).toEqual({ n: { ...text(1.5), style: 'heading' }, b: null, c: null })
    const after = Object.fromEntries(
      Object.entries({ ...blocks, ...changed }).filter(([, block]) => block),
    ) as ById<Block>
    expect(inOrder(after).map(([id]) => id)).toEqual(['a', 'n', 'd'])
  })

  it('keeps everything of a fixed block that is moved', () => {
    const nodes = editorContent(blocks)
    expect(changedBlocks([nodes[1], nodes[0], nodes[2], nodes[3]], blocks)).toEqual({ b: graph(-1) })
  })
})
