import { describe, expect, it } from 'vitest'
import {
  checkInvestigation,
  edit,
  edits,
  type Investigation,
  inOrder,
  type Mutator,
  newInvestigation,
} from '../index.ts'

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const [ONE, OTHER, FIRST, SECOND, THIRD] = [1, 2, 3, 4, 5].map(id)

const build = (...mutators: Mutator[]): Investigation =>
  mutators.reduce((document, mutator) => edit(document, mutator).document, newInvestigation('Net float'))
const two = (...mutators: Mutator[]) =>
  build(
    edits.addBody(ONE, { position: FIRST, velocity: SECOND }),
    edits.addBody(OTHER, { position: THIRD, velocity: id(6) }),
    ...mutators,
  )
const orderOf = ({ graphs }: Investigation) => inOrder(graphs).map(([graph]) => graph)

describe('graphs', () => {
  it('are moved among each other, and shown once more right behind themselves', () => {
    expect(orderOf(two(edits.moveGraph(THIRD, FIRST)))).toEqual([THIRD, FIRST, SECOND, id(6)])
    expect(orderOf(two(edits.moveGraph(FIRST, null)))).toEqual([SECOND, THIRD, id(6), FIRST])
    const copied = two(edits.changeGraph(FIRST, { title: 'Up' }), edits.copyGraph(id(9), FIRST))
    expect(orderOf(copied)).toEqual([FIRST, id(9), SECOND, THIRD, id(6)])
    expect(copied.graphs[id(9)].title).toBe('Up')
    // What is done to one of them is not done to the other.
    const changed = edit(copied, edits.scaleGraph(id(9), 'scaleY', { zero: true })).document
    expect(changed.graphs[FIRST].scaleY.zero).toBe(false)
  })

  it('take heights within their limits, notes, and series that go with their body', () => {
    const full = two(
      edits.resizeGraphs({ [FIRST]: 99, [SECOND]: 0 }),
      edits.noteOnGraph(id(7), FIRST, 12, 'top'),
      edits.drawAlso(id(8), FIRST, OTHER, 'y'),
      edits.addOverlay(id(9), FIRST, { name: 'sensor', times: [0, 1], values: [2, 3], offset: 0 }),
      edits.moveOverlay(id(9), FIRST, 0.5),
    )
    expect(checkInvestigation(JSON.parse(JSON.stringify(full)))).toEqual(full)
    const { height, notes, also, overlays } = full.graphs[FIRST]
    expect([height, full.graphs[SECOND].height]).toEqual([4, 0.3])
    expect(notes[id(7)].text).toBe('top')
    expect(overlays[id(9)].offset).toBe(0.5)
    expect(also[id(8)].body).toBe(OTHER)
    expect(edit(full, edits.removeBody(OTHER)).document.graphs[FIRST].also).toEqual({})
    expect(edit(full, edits.noteOnGraph(id(7), FIRST, 12, '')).document.graphs[FIRST].notes).toEqual({})
  })

  it('that a body begins with turn to x once, and not when somebody has touched them', () => {
    const turn = edits.turnFirstGraphs(ONE)
    expect(two(turn).graphs[FIRST].quantity).toBe('x')
    expect(two(turn).graphs[SECOND].quantity).toBe('vx')
    for (const touch of [
      edits.changeGraph(FIRST, { title: 'Up' }),
      edits.changeGraph(SECOND, { quantity: 'ay' }),
      edits.addStretch(id(9), FIRST, 1, 5),
      edits.drawAlso(id(9), FIRST, OTHER, 'y'),
      edits.removeGraph(SECOND),
    ])
      expect(two(touch, turn).graphs[FIRST].quantity).toBe('y')
  })

  it('of a quantity of one’s own go with it', () => {
    const own = { name: 'Own', symbol: 'q', unit: '', expression: '2*x' }
    const full = two(
      edits.setQuantity(id(9), own),
      edits.changeGraph(FIRST, { quantity: id(9) }),
      edits.changeGraph(SECOND, { xQuantity: id(9) }),
      edits.drawAlso(id(8), THIRD, ONE, id(9)),
    )
    expect(checkInvestigation(JSON.parse(JSON.stringify(full)))).toEqual(full)
    const without = edit(full, edits.removeQuantity(id(9))).document
    expect(Object.keys(without.graphs).sort()).toEqual([THIRD, id(6)].sort())
    expect(without.graphs[THIRD].also).toEqual({})
  })

  it('leave points out of a stretch, and take them back', () => {
    const out = two(edits.addStretch(id(9), FIRST, 1, 20), edits.leaveOut(id(9), [4, 7], true))
    expect(out.stretches[id(9)].without).toEqual({ 4: true, 7: true })
    expect(edit(out, edits.leaveOut(id(9), [4], false)).document.stretches[id(9)].without).toEqual({
      7: true,
    })
  })
})

describe('a document from outside', () => {
  // biome-ignore lint/suspicious/noExplicitAny: what comes from outside can be anything
  it.each<[string, (draft: any) => void]>([
    ['a quantity that is none', (d) => Object.assign(d.graphs[FIRST], { quantity: 'constructor' })],
    ['a graph against nothing', (d) => Object.assign(d.graphs[FIRST], { across: '__proto__' })],
    ['a height of 1000', (d) => Object.assign(d.graphs[FIRST], { height: 1000 })],
    [
      'a series whose times go back',
      (d) => {
        d.graphs[FIRST].overlays = {
          [id(9)]: { order: 0, name: 's', times: [1, 0], values: [1, 2], offset: 0 },
        }
      },
    ],
    [
      'a series with fewer values than times',
      (d) => {
        d.graphs[FIRST].overlays = { [id(9)]: { order: 0, name: 's', times: [0, 1], values: [1], offset: 0 } }
      },
    ],
    [
      'an expression of 3000 characters',
      (d) => {
        d.quantities = {
          [id(9)]: { order: 0, name: 'q', symbol: 'q', unit: '', expression: 'x'.repeat(3000) },
        }
      },
    ],
    ['a g of 0', (d) => Object.assign(d.freeFall, { value: 0 })],
  ])('with %s is refused', (_, spoil) => {
    const document = JSON.parse(JSON.stringify(two()))
    spoil(document)
    expect(() => checkInvestigation(document)).toThrow(RangeError)
  })
})
