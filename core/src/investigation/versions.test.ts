// biome-ignore-all lint/suspicious/noExplicitAny: documents are spoiled here on purpose
import { describe, expect, it } from 'vitest'
import { full, graphBlock, id } from '../testing/built.ts'
import { checkInvestigation, NewerDocumentError, newInvestigation, readInvestigation } from './index.ts'

/** Returns the document of `full` as version 2 had it: one reference that counts, one set of axes. */
const versionTwo = () => {
  const { title, footage: file, orientation, timing, span, bodies, stretches, fits } = full()
  return {
    version: 2,
    title,
    footage: file,
    orientation,
    timing,
    span,
    stretches,
    fits,
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

/** Returns what version 9 would have written of the same: the names that version 10 has replaced. */
function versionNine() {
  const { outlierLimit, graphs, fits, ...document } = JSON.parse(JSON.stringify(full()))
  for (const graph of Object.values<Record<string, unknown>>(graphs)) {
    const { xQuantity, markStyle, scaleX, scaleY } = graph
    Object.assign(graph, { across: xQuantity, look: markStyle, scaleAcross: scaleX, scaleUp: scaleY })
    for (const field of ['xQuantity', 'markStyle', 'scaleX', 'scaleY']) delete graph[field]
  }
  for (const fit of Object.values<Record<string, unknown>>(fits)) {
    fit.held = fit.fixed
    delete fit.fixed
  }
  return { ...document, version: 9, strayLimit: outlierLimit, graphs, fits }
}

/** Returns what version 8 would have written of the same: one placing error for both ends, no errors of directions. */
function versionEight() {
  const { references, axes, ...document } = versionNine()
  for (const reference of Object.values<Record<string, unknown>>(references)) reference.placingError = 0.5
  for (const set of Object.values<Record<string, unknown>>(axes)) delete set.tiltError
  return { ...document, version: 8, references, axes }
}

describe('a document', () => {
  it('of version 2 is read with its one reference and its one set of axes', () => {
    expect(readInvestigation(versionTwo())).toEqual(full())
    expect(readInvestigation({ ...versionTwo(), references: {} }).references).toEqual({})
    const second = { ...versionTwo().references[id(2)], order: 1 }
    const two = { ...versionTwo().references, [id(9)]: second }
    const read = readInvestigation({ ...versionTwo(), references: two })
    expect([read.references[id(2)].use, read.references[id(9)].use]).toEqual(['scale', 'check'])
  })

  it('of version 12 is read without refusals, and one of an unknown kind is refused', () => {
    const { refusals: _, ...twelve } = JSON.parse(JSON.stringify(full()))
    expect(readInvestigation({ ...twelve, version: 12 })).toEqual(full())
    const strange = { ...full(), refusals: { [id(9)]: { order: 0, kind: 'moon' } } }
    expect(() => checkInvestigation(strange)).toThrow(/kind/)
    const placeless = { ...full(), refusals: { [id(9)]: { order: 0, kind: 'body', frame: 3, x: 1 } } }
    expect(() => checkInvestigation(placeless)).toThrow(/y/)
  })

  it('of version 11 is read with the graphs of its report along the axes that they have', () => {
    const block = { ...graphBlock(id(4)), order: 0, pin: null }
    const { rangeX: _x, rangeY: _y, ...before } = block
    const eleven = JSON.parse(JSON.stringify(full()))
    eleven.version = 11
    eleven.report.blocks = { [id(8)]: before }
    expect(readInvestigation(eleven).report.blocks[id(8)]).toEqual(block)
  })

  it('of version 9 is read with its values under their new names', () => {
    const nine = versionNine()
    nine.strayLimit = 5
    Object.assign(nine.graphs[id(4)], {
      across: 'x',
      look: 'line',
      scaleAcross: { ...nine.graphs[id(4)].scaleUp, log: true },
    })
    nine.fits[id(7)].held = { a: -9.81 }
    const read = readInvestigation(nine)
    expect(read.outlierLimit).toBe(5)
    expect(read.graphs[id(4)]).toMatchObject({
      xQuantity: 'x',
      markStyle: 'line',
      scaleX: { log: true },
      scaleY: { log: false },
    })
    expect(read.fits[id(7)].fixed).toEqual({ a: -9.81 })
    expect(readInvestigation(versionNine())).toEqual(full())
  })

  it('of version 8 is read with its placing errors at the points, and directions without an error', () => {
    const eight = versionEight()
    expect(eight.version).toBe(8)
    expect(readInvestigation(eight)).toEqual(full())
    eight.references[id(2)].placingError = 2
    const corners = [
      { x: 0, y: 90, frame: 10 },
      { x: 90, y: 90, frame: 10 },
      { x: 90, y: 0, frame: 10 },
      { x: 0, y: 0, frame: 10 },
    ]
    eight.plane = { corners, width: 2, height: 1, sizeError: 0, placingError: 1.5 }
    eight.gravity = -1.4
    const read = readInvestigation(eight)
    expect(read.references[id(2)].ends.map(({ error }) => error)).toEqual([2, 2])
    expect(read.plane!.corners).toEqual(corners.map((corner) => ({ ...corner, error: 1.5 })))
    expect(read.gravity).toEqual({ direction: -1.4, error: 0 })
  })

  it('of version 7 is read with fits of one column, and what was expected of them', () => {
    const seven = versionEight()
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
    ['endless fixed values', { fixed: { a: Number.POSITIVE_INFINITY } }],
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
    const six = versionEight()
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
    const five = versionEight()
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
    const four = versionEight()
    four.version = 4
    delete four.drawn
    delete four.strayLimit
    for (const body of Object.values<Record<string, unknown>>(four.bodies))
      for (const field of ['markError', 'second', 'breaks']) delete body[field]
    expect(readInvestigation(four)).toEqual(full())
  })

  it('of version 3 is read with bodies of which no more was known than their marks', () => {
    const three = versionEight()
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

  it('that points at what is not there is read without it: two people had changed it at once', () => {
    const gone = versionEight()
    delete gone.bodies[id(3)]
    gone.mainAxes = id(50)
    const read = readInvestigation(gone)
    expect(read).toMatchObject({ graphs: {}, stretches: {}, fits: {}, mainAxes: Object.keys(read.axes)[0] })
    const alone = versionEight()
    delete alone.stretches[id(6)]
    expect(Object.keys(readInvestigation(alone).graphs)).toEqual(Object.keys(full().graphs))
    expect(readInvestigation(alone).fits).toEqual({})
  })

  it('of a newer version is refused with its number', () => {
    expect(() => readInvestigation({ ...full(), version: 99 })).toThrow(NewerDocumentError)
    expect(() => readInvestigation('[]')).toThrow(RangeError)
  })
})
