import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { build, footage, full, id } from '../../testing/built.ts'
import {
  applyPatch,
  checkInvestigation,
  edit,
  edits,
  type Investigation,
  inOrder,
  type Mutator,
} from '../index.ts'

describe('edits', () => {
  it('give a patch and its inverse that lead there and back', () => {
    const mutators: Mutator[] = [
      edits.setTitle('Second throw'),
      edits.setSpan({ first: 4 }),
      edits.removeBody(id(3)),
      edits.setMark(id(3), 30, { x: 7, y: 8 }),
      edits.removeMark(id(3), 12),
      edits.changeReference(id(2), {
        ends: [
          { x: 0, y: 0, frame: 4 },
          { x: 9, y: 9, frame: 4 },
        ],
      }),
      edits.removeGraph(id(4)),
      edits.changeFit(id(7), {
        expected: { reading: '', against: { kind: 'value', value: -9.81, error: 0, label: 'g' } },
      }),
    ]
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...mutators), { minLength: 1, maxLength: 8 }), (chosen) => {
        const before = full()
        let document = before
        const inverses = []
        for (const mutator of chosen) {
          const edited = edit(document, mutator)
          expect(applyPatch(document, edited.patch)).toEqual(edited.document)
          inverses.unshift(edited.inverse)
          document = edited.document
        }
        expect(inverses.reduce((at, inverse) => applyPatch(at, inverse), document)).toEqual(before)
      }),
    )
  })

  it('leave nothing behind that points at what they remove', () => {
    const own = { name: 'twice', symbol: 'w', unit: '', expression: '2*y' }
    const document = build(
      edits.setFootage(footage),
      edits.addBody(id(3), { position: id(4), velocity: id(5) }),
      edits.addBody(id(13), { position: id(14), velocity: id(15) }),
      edits.setQuantity(id(20), own),
      edits.addStretch(id(6), id(4), 2, 12),
      edits.addFit(id(7), id(6), 'uniform'),
      (draft) => {
        draft.graphs[id(4)].other = id(13)
        const series = { order: 0, body: id(3), other: id(13), quantity: id(20) }
        draft.graphs[id(4)].also = { [id(21)]: series }
        draft.graphs[id(5)].xQuantity = id(20)
        const { model } = draft.fits[id(7)]
        draft.fits[id(7)].together = {
          [id(22)]: { order: 0, body: id(13), quantity: 'x', model },
          [id(23)]: { order: 1, body: id(3), quantity: id(20), model },
        }
      },
    )
    for (const mutator of [edits.removeBody(id(13)), edits.removeBody(id(3)), edits.removeQuantity(id(20))])
      expect(checkInvestigation(edit(document, mutator).document)).toBeTruthy()
    const { fits, graphs } = edit(document, edits.removeBody(id(13))).document
    expect(Object.keys(fits[id(7)].together)).toEqual([id(23)])
    expect(graphs[id(4)]).toMatchObject({ other: null, also: { [id(21)]: { other: null } } })
  })

  it('remove with a body all that stands on it', () => {
    const { document } = edit(full(), edits.removeBody(id(3)))
    expect([document.graphs, document.stretches, document.fits]).toEqual([{}, {}, {}])
  })

  it('set followed marks, but none that a hand has set', () => {
    const found = { 10: { x: 1, y: 1, certainty: 0.9 }, 77: { x: 5, y: 6, certainty: 0.8 } }
    const before = full()
    const { marks } = edit(before, edits.setFollowed(id(3), found)).document.bodies[id(3)]
    expect(marks[10]).toEqual(before.bodies[id(3)].marks[10])
    expect(marks[77]).toEqual({ x: 5, y: 6, by: 'follow', certainty: 0.8 })
    const replaced = edit(before, edits.setFollowed(id(3), found, true)).document
    expect(replaced.bodies[id(3)].marks[10]).toEqual({ x: 1, y: 1, by: 'follow', certainty: 0.9 })
    expect(checkInvestigation(replaced)).toBe(replaced)
    const doubtful = edit(before, edits.setFollowed(id(3), { 77: { x: 5, y: 6, certainty: 1.2 } })).document
    expect(() => checkInvestigation(doubtful)).toThrow(RangeError)
  })

  it('clear marks from one frame to another, or all', () => {
    const ids = [20, 30, 40, 50]
    const marked = edit(full(), (draft) => {
      draft.bodies[id(3)].marks = {}
      for (const frame of ids) edits.setMark(id(3), frame, { x: frame, y: 1 })(draft)
    }).document
    const left = (mutator: Mutator) =>
      Object.keys(edit(marked, mutator).document.bodies[id(3)].marks).map(Number)
    expect(left(edits.clearMarks(id(3), 30, 40))).toEqual([20, 50])
    expect(left(edits.clearMarks(id(3)))).toEqual([])
  })

  it('reorder bodies and duplicate one with its marks', () => {
    const two = edit(full(), edits.addBody(id(20), { position: id(21), velocity: id(22) }, 'oar')).document
    const order = (document: Investigation) => inOrder(document.bodies).map(([key]) => key)
    expect(order(edit(two, edits.moveBody(id(20), -1)).document)).toEqual([id(20), id(3)])
    expect(order(edit(two, edits.moveBody(id(20), -9)).document)).toEqual([id(20), id(3)])
    expect(order(edit(two, edits.moveBody(id(3), 1)).document)).toEqual([id(20), id(3)])
    const copied = edit(
      two,
      edits.duplicateBody(id(3), id(30), { position: id(31), velocity: id(32) }),
    ).document
    expect(copied.bodies[id(30)].marks).toEqual(two.bodies[id(3)].marks)
    expect(copied.bodies[id(30)].colour).not.toBe(two.bodies[id(3)].colour)
    expect(checkInvestigation(copied)).toBe(copied)
  })

  it('keep a dragged span end from pushing the other', () => {
    expect(edit(full(), edits.setSpan({ first: 90 })).document.span).toEqual({
      first: 60,
      last: 60,
      every: 1,
    })
    expect(edit(full(), edits.setSpan({ last: 5 })).document.span).toEqual({ first: 10, last: 10, every: 1 })
  })
})

describe('capture rates', () => {
  it('are stated, changed in place and taken away', () => {
    const stated = build(
      edits.setFootage(footage),
      edits.setCaptureRate(id(8), { from: null, to: null, rate: 240, known: null }),
      edits.setCaptureRate(id(9), { from: 5, to: 9, rate: 60, known: null }),
      edits.setCaptureRate(id(8), { from: null, to: null, rate: 120, known: null }),
    )
    expect(Object.values(stated.timing.capture).map(({ order, rate }) => [order, rate])).toEqual([
      [0, 120],
      [1, 60],
    ])
    expect(edit(stated, edits.removeCaptureRate(id(8))).document.timing.capture[id(8)]).toBeUndefined()
    expect(checkInvestigation(stated)).toEqual(stated)
  })
})
