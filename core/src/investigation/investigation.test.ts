// biome-ignore-all lint/suspicious/noExplicitAny: documents are spoiled here on purpose
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  applyPatch,
  checkInvestigation,
  checkPatch,
  edit,
  edits,
  type Investigation,
  NewerDocumentError,
  newInvestigation,
  PatchError,
  patchesMeet,
  type Recipe,
  readInvestigation,
  summarise,
} from './index.ts'

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const footage = {
  id: id(1),
  name: 'net-float.mp4',
  size: 1000,
  width: 1280,
  height: 720,
  timeBase: { numerator: 1, denominator: 15360 },
  ticks: { first: 0, runs: [[256, 119]] as [number, number][] },
}

function build(...recipes: Recipe[]): Investigation {
  return recipes.reduce((document, recipe) => edit(document, recipe).document, newInvestigation('Net float'))
}

const full = () =>
  build(
    edits.setFootage(footage),
    edits.setSpan({ first: 10, last: 60, every: 2 }),
    edits.addReference(id(2), [
      { x: 10, y: 400 },
      { x: 10, y: 85 },
    ]),
    edits.changeReference(id(2), { length: 1.4, name: 'tide staff' }),
    edits.setAxes({ origin: { x: 100, y: 500 }, tilt: 0.1 }),
    edits.addBody(id(3), { position: id(4), velocity: id(5) }),
    edits.setMark(id(3), 10, { x: 1.5, y: 2.5 }),
    edits.setMark(id(3), 12, { x: 4, y: 6 }),
    edits.addStretch(id(6), id(4), 40, 12),
    edits.addFit(id(7), id(6), 'uniform-acceleration'),
  )

describe('document', () => {
  it('is valid when built by edits', () => {
    expect(checkInvestigation(JSON.parse(JSON.stringify(full())))).toEqual(full())
  })

  it.each<[string, (draft: any) => void]>([
    [
      'an unknown field',
      (d) => {
        d.extra = 1
      },
    ],
    [
      'a title of two lines',
      (d) => {
        d.title = 'a\nb'
      },
    ],
    [
      'an empty title',
      (d) => {
        d.title = ''
      },
    ],
    [
      'a mark without y',
      (d) => {
        d.bodies[id(3)].marks[10] = { x: 1, by: 'hand' }
      },
    ],
    [
      'a mark on no frame',
      (d) => {
        d.bodies[id(3)].marks['1.5'] = { x: 1, y: 1, by: 'hand' }
      },
    ],
    [
      'a number as text',
      (d) => {
        d.axes.tilt = '0.1'
      },
    ],
    [
      'a span that ends first',
      (d) => {
        d.span = { first: 9, last: 3, every: 1 }
      },
    ],
    [
      'a negative length',
      (d) => {
        d.references[id(2)].length = -1
      },
    ],
    [
      'a body under no UUID',
      (d) => {
        d.bodies.body = d.bodies[id(3)]
      },
    ],
    [
      'an unknown quantity',
      (d) => {
        d.graphs[id(4)].quantity = 'z'
      },
    ],
    [
      'frames out of order',
      (d) => {
        d.footage.ticks.runs = [[-2, 3]]
      },
    ],
    [
      'an array for a collection',
      (d) => {
        d.bodies = []
      },
    ],
  ])('with %s is refused', (_, spoil) => {
    const document = JSON.parse(JSON.stringify(full()))
    spoil(document)
    expect(() => checkInvestigation(document)).toThrow(RangeError)
  })

  it('of a newer version is refused with its number', () => {
    expect(() => readInvestigation({ ...full(), version: 99 })).toThrow(NewerDocumentError)
    expect(() => readInvestigation('[]')).toThrow(RangeError)
  })

  it('is summed up for its card', () => {
    expect(summarise(full())).toEqual({
      footage: true,
      span: true,
      scale: true,
      axes: true,
      bodies: 1,
      marks: 2,
      fits: 1,
    })
  })
})

describe('edits', () => {
  it('give a patch and its inverse that lead there and back', () => {
    const recipes: Recipe[] = [
      edits.setTitle('Second throw'),
      edits.setSpan({ first: 4 }),
      edits.removeBody(id(3)),
      edits.setMark(id(3), 30, { x: 7, y: 8 }),
      edits.removeMark(id(3), 12),
      edits.changeReference(id(2), {
        ends: [
          { x: 0, y: 0 },
          { x: 9, y: 9 },
        ],
      }),
      edits.removeGraph(id(4)),
      edits.changeFit(id(7), { expected: { value: -9.81, label: 'g' } }),
    ]
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...recipes), { minLength: 1, maxLength: 8 }), (chosen) => {
        const before = full()
        let document = before
        const inverses = []
        for (const recipe of chosen) {
          const edited = edit(document, recipe)
          expect(applyPatch(document, edited.patch)).toEqual(edited.document)
          inverses.unshift(edited.inverse)
          document = edited.document
        }
        expect(inverses.reduce((at, inverse) => applyPatch(at, inverse), document)).toEqual(before)
      }),
    )
  })

  it('remove with a body all that stands on it', () => {
    const { document } = edit(full(), edits.removeBody(id(3)))
    expect([document.graphs, document.stretches, document.fits]).toEqual([{}, {}, {}])
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

describe('patches', () => {
  it('that do not fit change nothing', () => {
    const document = full()
    const before = JSON.stringify(document)
    const patch = [
      { op: 'replace' as const, path: '/title', value: 'x' },
      { op: 'remove' as const, path: `/bodies/${id(99)}` },
    ]
    expect(() => applyPatch(document, patch)).toThrow(PatchError)
    expect(JSON.stringify(document)).toBe(before)
  })

  it('leave what they do not touch as the same object', () => {
    const document = full()
    const next = applyPatch(document, [{ op: 'replace', path: '/title', value: 'Second throw' }])
    expect(next.title).toBe('Second throw')
    expect(next.footage).toBe(document.footage)
    expect(next.bodies).toBe(document.bodies)
  })

  it.each([
    [[{ op: 'add', path: '/__proto__/x', value: 1 }]],
    [[{ op: 'add', path: '/bodies/constructor/prototype/x', value: 1 }]],
    [[{ op: 'test', path: '/title', value: 1 }]],
    [[{ op: 'move', from: '/title', path: '/x' }]],
    [[{ op: 'replace', path: '', value: {} }]],
    [[{ op: 'replace', path: 'title', value: 'x' }]],
    [[]],
    ['text'],
  ])('from outside like %j are refused', (patch) => {
    expect(() => checkPatch(patch)).toThrow()
  })

  it('from outside may set a thing to nothing', () => {
    const patch = [{ op: 'replace', path: '/footage', value: null }]
    expect(checkPatch(patch)).toEqual(patch)
  })

  it('meet where one is above the other, not where names merely begin alike', () => {
    const on = (path: string) => [{ op: 'remove' as const, path }]
    expect(patchesMeet(on('/bodies/a'), on('/bodies/a/marks/3'))).toBe(true)
    expect(patchesMeet(on('/bodies/a/marks/3'), on('/bodies/a/marks/31'))).toBe(false)
    expect(patchesMeet(on('/title'), on('/title'))).toBe(true)
  })
})
