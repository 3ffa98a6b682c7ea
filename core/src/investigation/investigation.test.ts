// biome-ignore-all lint/suspicious/noExplicitAny: documents are spoiled here on purpose
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  applyPatch,
  axesOf,
  checkInvestigation,
  checkPatch,
  edit,
  edits,
  FIRST_AXES,
  type Footage,
  framesInUse,
  type Investigation,
  inOrder,
  NewerDocumentError,
  newInvestigation,
  PatchError,
  patchesMeet,
  pictureSize,
  type Recipe,
  readInvestigation,
  summarise,
} from './index.ts'

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const footage: Footage = {
  id: id(1),
  name: 'net-float.mp4',
  size: 1000,
  width: 1280,
  height: 720,
  timeBase: { numerator: 1, denominator: 15360 },
  ticks: { first: 0, runs: [[256, 119]] },
  rotation: 0,
  notedCaptureRate: null,
  converted: false,
}

function build(...recipes: Recipe[]): Investigation {
  return recipes.reduce((document, recipe) => edit(document, recipe).document, newInvestigation('Net float'))
}

const full = () =>
  build(
    edits.setFootage(footage),
    edits.setSpan({ first: 10, last: 60, every: 2 }),
    edits.addReference(id(2), [
      { x: 10, y: 400, frame: 10 },
      { x: 10, y: 85, frame: 10 },
    ]),
    edits.changeReference(id(2), { length: 1.4, name: 'tide staff' }),
    edits.setAxes({ origin: { x: 100, y: 500, frame: 10 }, tilt: 0.1 }),
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
        d.axes[FIRST_AXES].tilt = '0.1'
      },
    ],
    [
      'a span that ends first',
      (d) => {
        d.span = { first: 9, last: 3, every: 1 }
      },
    ],
    [
      'main axes that there are not',
      (d) => {
        d.mainAxes = id(50)
      },
    ],
    [
      'a distance with three points',
      (d) => {
        const at = { x: 1, y: 1, frame: 0 }
        d.probes[id(10)] = { order: 0, name: 'p', kind: 'distance', points: [at, at, at], oneFrame: false }
      },
    ],
    [
      'a lens that folds the picture',
      (d) => {
        d.lens = { k1: -3, edges: {} }
      },
    ],
    [
      'distances the wrong way round',
      (d) => {
        d.references[id(2)].depth = { reference: [3, 2], motion: [1, 1] }
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
      'a streak to nowhere',
      (d) => {
        d.bodies[id(3)].marks[10].streak = { x: 1 }
      },
    ],
    [
      'a rest that ends before it begins',
      (d) => {
        d.bodies[id(3)].marks[10].until = 9
      },
    ],
    [
      'a rest over another mark',
      (d) => {
        d.bodies[id(3)].marks[10].until = 12
      },
    ],
    [
      'a break that is neither',
      (d) => {
        d.bodies[id(3)].breaks[12] = 'perhaps'
      },
    ],
    [
      'marks without any error',
      (d) => {
        d.bodies[id(3)].markError = 0
      },
    ],
    [
      'a limit by which all marks are strays',
      (d) => {
        d.strayLimit = 0.1
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

  /** The document of `full` as version 2 had it: one reference that counts, one set of axes. */
  const versionTwo = () => {
    const { title, footage: file, orientation, timing, span, bodies, stretches, fits } = full()
    return {
      version: 2,
      ...{ title, footage: file, orientation, timing, span, stretches, fits },
      bodies: Object.fromEntries(
        Object.entries(bodies).map(([key, { order, name, colour, shape, marks }]) => [
          key,
          { order, name, colour, shape, marks },
        ]),
      ),
      references: {
        [id(2)]: {
          order: 0,
          name: 'tide staff',
          ends: [
            { x: 10, y: 400 },
            { x: 10, y: 85 },
          ],
          length: 1.4,
          lengthError: 0,
          placingError: 0.5,
        },
      },
      axes: { origin: { x: 100, y: 500 }, tilt: 0.1, placed: true },
      graphs: {
        [id(4)]: { order: 0, body: id(3), quantity: 'y' },
        [id(5)]: { order: 1, body: id(3), quantity: 'vy' },
      },
    }
  }

  it('of version 2 is read with its one reference and its one set of axes', () => {
    expect(readInvestigation(versionTwo())).toEqual(full())
    expect(readInvestigation({ ...versionTwo(), references: {} }).references).toEqual({})
    const second = { ...versionTwo().references[id(2)], order: 1 }
    const two = { ...versionTwo().references, [id(9)]: second }
    const read = readInvestigation({ ...versionTwo(), references: two })
    expect([read.references[id(2)].use, read.references[id(9)].use]).toEqual(['scale', 'check'])
  })

  it('of version 7 is read with fits of one column, and what was expected of them', () => {
    const seven = JSON.parse(JSON.stringify(full()))
    seven.version = 7
    for (const field of ['calculations', 'tolerance']) delete seven[field]
    const [[fitId, { order, stretch, model, form }]] = Object.entries(full().fits)
    seven.fits[fitId] = { order, stretch, model, form, expected: { value: -9.81, label: 'g' } }
    const read = readInvestigation(seven)
    expect(read.fits[fitId].expected).toEqual({
      reading: '',
      against: { kind: 'value', value: -9.81, error: 0, label: 'g' },
    })
    expect({ ...read.fits[fitId], expected: null }).toEqual({ ...full().fits[fitId], expected: null })
    expect([read.calculations, read.tolerance]).toEqual([{}, null])
  })

  it.each([
    ['an unknown model', { model: 'spiral' }],
    ['a name that is no text', { name: 7 }],
    ['a start that is no number', { start: { a: 'one' } }],
    ['endless held values', { held: { a: Number.POSITIVE_INFINITY } }],
    ['a shared parameter that is not', { shared: { a: false } }],
    ['an unknown way of comparing', { expected: { reading: '', against: { kind: 'guess' } } }],
    [
      'an error below zero',
      { expected: { reading: '', against: { kind: 'value', value: 1, error: -1, label: '' } } },
    ],
    ['more than it knows', { hidden: true }],
    ['columns by no UUID', { together: { here: { order: 0, body: 'x', quantity: 'y', model: 'uniform' } } }],
  ])('is refused where a fit has %s', (_, change) => {
    const document = full()
    const [[fitId, fit]] = Object.entries(document.fits)
    const changed = { ...document, fits: { [fitId]: { ...fit, ...change } } }
    expect(() => readInvestigation(changed)).toThrow(RangeError)
  })

  it('of version 6 is read with graphs against time, even windows and no quantities of one’s own', () => {
    const six = JSON.parse(JSON.stringify(full()))
    six.version = 6
    for (const field of ['freeFall', 'direction', 'constants', 'quantities']) delete six[field]
    delete six.derivation.weighted
    for (const [graphId, graph] of Object.entries<Record<string, unknown>>(six.graphs)) {
      const { order, body, quantity, axes, errorBars } = graph
      six.graphs[graphId] = {
        order,
        body,
        quantity,
        axes,
        errorBars,
        derivation: { method: 'cubic', reach: 4 },
      }
    }
    for (const stretch of Object.values<Record<string, unknown>>(six.stretches)) delete stretch.without
    const read = readInvestigation(six)
    const [[graphId, graph]] = Object.entries(read.graphs)
    expect(graph).toEqual({
      ...full().graphs[graphId],
      derivation: { method: 'cubic', reach: 4, weighted: false },
    })
    expect({ ...read, graphs: {} }).toEqual({ ...full(), graphs: {} })
  })

  it('of version 5 is read with velocities from three neighbouring points', () => {
    const five = JSON.parse(JSON.stringify(full()))
    five.version = 5
    delete five.derivation
    for (const graph of Object.values<Record<string, unknown>>(five.graphs))
      for (const field of ['derivation', 'errorBars']) delete graph[field]
    const read = readInvestigation(five)
    expect(read).toEqual(full())
    expect(read.derivation.method).toBe('three-point')
  })

  it('from before momenta were drawn is read as it is; anything but yes and no is refused there', () => {
    const { momentum, ...before } = newInvestigation('Old').drawn
    expect(momentum).toBe(undefined)
    const read = (drawn: object) => readInvestigation({ ...newInvestigation('Old'), drawn })
    expect(read(before).drawn).toEqual(before)
    expect(read({ ...before, momentum: true }).drawn.momentum).toBe(true)
    expect(() => read({ ...before, momentum: 'yes' })).toThrow(/momentum/)
  })

  it('of version 4 is read without breaks and with nothing else drawn', () => {
    const four = JSON.parse(JSON.stringify(full()))
    four.version = 4
    delete four.drawn
    delete four.strayLimit
    for (const body of Object.values<Record<string, unknown>>(four.bodies))
      for (const field of ['markError', 'second', 'breaks']) delete body[field]
    expect(readInvestigation(four)).toEqual(full())
  })

  it('of version 3 is read with bodies of which no more was known than their marks', () => {
    const three = JSON.parse(JSON.stringify(full()))
    three.version = 3
    delete three.drawn
    delete three.strayLimit
    for (const body of Object.values<Record<string, unknown>>(three.bodies))
      for (const field of ['mass', 'hidden', 'locked', 'outline', 'markError', 'second', 'breaks'])
        delete body[field]
    expect(readInvestigation(three)).toEqual(full())
  })

  it('of version 1 is read with the file’s own times and the picture as it was', () => {
    const { orientation, timing, ...rest } = versionTwo()
    const { rotation, notedCaptureRate, converted, ...old } = rest.footage!
    expect(readInvestigation({ ...rest, version: 1, footage: old })).toEqual(full())
    expect(readInvestigation({ ...rest, version: 1, footage: null }).footage).toBeNull()
  })

  it.each([
    [
      'a capture rate of nothing',
      (d: any) => (d.timing.capture[id(9)] = { order: 0, from: null, to: null, rate: null, known: null }),
    ],
    ['a capture rate that is not positive', (d: any) => (d.timing.constantRate = -30)],
    [
      'a known time that runs backwards',
      (d: any) =>
        (d.timing.capture[id(9)] = {
          order: 0,
          from: null,
          to: null,
          rate: null,
          known: { from: 9, to: 3, seconds: 1 },
        }),
    ],
    [
      'repeats out of order',
      (d: any) => (d.timing.repeats = { frames: [5, 5], use: 'keep', originalRate: null }),
    ],
    ['a read-out to nowhere', (d: any) => (d.timing.readout = { seconds: 0.01, towards: 'inwards' })],
    ['five quarter turns', (d: any) => (d.orientation.quarterTurns = 5)],
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
    const left = (recipe: Recipe) =>
      Object.keys(edit(marked, recipe).document.bodies[id(3)].marks).map(Number)
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

describe('turning the picture', () => {
  const turn = (...turns: ('left' | 'right' | 'mirror')[]) =>
    turns.reduce((document, way) => edit(document, edits.turnPicture(way)).document, full())

  it('takes marks, reference and axes along', () => {
    const turned = turn('right')
    expect(pictureSize(turned)).toEqual({ width: 720, height: 1280 })
    expect(turned.bodies[id(3)].marks[10]).toEqual({ x: 720 - 2.5, y: 1.5, by: 'hand' })
    expect(turned.references[id(2)].ends[0]).toEqual({ x: 320, y: 10, frame: 10 })
    expect(axesOf(turned).origin).toEqual({ x: 220, y: 100, frame: 10 })
    expect(axesOf(turned).tilt).toBeCloseTo(0.1 - Math.PI / 2, 12)
  })

  it.each([
    [['left', 'right']],
    [['right', 'right', 'right', 'right']],
    [['mirror', 'mirror']],
    [['mirror', 'right', 'mirror', 'right']],
  ] as const)('comes back to where it was after %j', (turns) => {
    const back = turn(...turns)
    expect(back.orientation).toEqual({ mirrored: false, quarterTurns: 0 })
    expect(axesOf(back).tilt).toBeCloseTo(0.1, 12)
    expect(back.bodies).toEqual(full().bodies)
    expect(back.references).toEqual(full().references)
  })

  it('takes streaks and second points along', () => {
    const streaked = build(
      (draft) => Object.assign(draft, full()),
      edits.setMark(id(3), 14, { x: 100, y: 200 }, { x: 10, y: -3 }),
      edits.setSecond(id(3), 14, { x: 120, y: 210 }),
    )
    const { marks, second } = edit(streaked, edits.turnPicture('right')).document.bodies[id(3)]
    const { x, y, streak } = marks[14]
    expect(streak).toEqual({ x: 3, y: 10 })
    expect({ x: second[14].x - x, y: second[14].y - y }).toEqual({ x: -10, y: 20 })
  })

  it('turns an outline along', () => {
    const radii = Array.from({ length: 24 }, (_, i) => 5 + i)
    const outlined = edit(full(), edits.changeBody(id(3), { outline: { radii } })).document
    const right = edit(outlined, edits.turnPicture('right')).document.bodies[id(3)].outline!.radii
    // What pointed to the right points down.
    expect(right[6]).toBe(radii[0])
    const mirrored = edit(outlined, edits.turnPicture('mirror')).document.bodies[id(3)].outline!.radii
    expect(mirrored[12]).toBe(radii[0])
    expect(mirrored[6]).toBe(radii[6])
  })

  it('takes everything else along that has a place in the picture', () => {
    const at = (x: number, y: number) => ({ x, y, frame: 0 })
    const document = edit(full(), (draft) => {
      edits.addProbe(id(10), 'angle', [at(1, 2), at(3, 4), at(5, 6)])(draft)
      edits.addLandmark(id(11), 4, { x: 7, y: 8 })(draft)
      edits.setPlaneCorners([at(100, 600), at(900, 620), at(880, 200), at(120, 180)])(draft)
      edits.addEdge(
        id(12),
        [at(1, 1), at(50, 1), at(99, 1)].map(({ x, y }) => ({ x, y })),
      )(draft)
    }).document
    const right = edit(document, edits.turnPicture('right')).document
    expect(right.probes[id(10)].points[2]).toEqual({ x: 714, y: 5, frame: 0 })
    expect(right.camera.landmarks[id(11)].marks[4]).toEqual({ x: 712, y: 7 })
    expect(right.plane!.corners[0]).toEqual({ x: 120, y: 100, frame: 0 })
    expect(right.lens!.edges[id(12)].points[1]).toEqual({ x: 719, y: 50 })
    // What was straight down is to the left now.
    expect(right.gravity).toBeCloseTo(Math.PI, 12)
    const back = edit(right, edits.turnPicture('left')).document
    expect({ ...back, axes: null }).toEqual({ ...document, axes: null })
    // Mirrored, the plane's corners begin at the lower left again.
    const mirrored = edit(document, edits.turnPicture('mirror')).document
    expect(mirrored.plane!.corners[0]).toEqual({ x: 1280 - 900, y: 620, frame: 0 })
    expect(checkInvestigation(mirrored)).toEqual(mirrored)
  })

  it('keeps where the sensor reads out to', () => {
    const read = edit(full(), edits.setReadout({ seconds: 0.016, towards: 'down' })).document
    const towards = (way: 'left' | 'right' | 'mirror') =>
      edit(read, edits.turnPicture(way)).document.timing.readout?.towards
    expect([towards('right'), towards('left'), towards('mirror')]).toEqual(['left', 'right', 'down'])
  })
})

describe('frames in use', () => {
  it('follow span and repeats', () => {
    const document = full()
    expect(framesInUse(document).list.slice(0, 3)).toEqual([10, 12, 14])
    const kept = edit(document, edits.setRepeats({ frames: [12, 999], use: 'keep', originalRate: null }))
    expect(framesInUse(kept.document).has(12)).toBe(true)
    const out = edit(document, edits.setRepeats({ frames: [12], use: 'leave-out', originalRate: null }))
    expect(framesInUse(out.document).list.slice(0, 3)).toEqual([10, 14, 16])
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
