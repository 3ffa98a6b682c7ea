import { describe, expect, it } from 'vitest'
import { full, graphBlock, id } from '../testing/built.ts'
import { checkInvestigation, type Investigation } from './index.ts'

/** Returns a document with an entry of every kind. */
function rich(): Record<string, unknown> {
  const document = JSON.parse(JSON.stringify(full())) as Investigation
  const at = { x: 3, y: 4 }
  const placed = { ...at, frame: 10 }
  document.timing = {
    ...document.timing,
    capture: {
      [id(20)]: { order: 0, from: null, to: 30, rate: 240, known: null },
      [id(21)]: { order: 1, from: 31, to: null, rate: null, known: { from: 31, to: 50, seconds: 2 } },
    },
    readout: { seconds: 0.01, towards: 'down' },
    repeats: { frames: [5], use: 'keep', originalRate: null },
  }
  document.plane = {
    corners: [placed, { ...placed, x: 90 }, { ...placed, x: 90, y: 60 }, { ...placed, y: 60 }],
    width: 2,
    height: 1,
    sizeError: 0,
  }
  document.lens = {
    k1: null,
    edges: { [id(22)]: { order: 0, points: [at, { x: 50, y: 8 }, { x: 90, y: 4 }] } },
  }
  document.camera = {
    motion: 'zoomed',
    landmarks: { [id(23)]: { order: 0, name: 'mast', marks: { 10: at }, gone: null } },
  }
  document.knownMotions = { [id(24)]: { order: 0, stretch: id(6), derivative: 2, value: 9.81, error: 0.01 } }
  document.constants = { [id(25)]: { order: 0, name: 'g', value: 9.81, error: 0, unit: 'm/s²' } }
  document.quantities = { [id(26)]: { order: 0, symbol: 'k', name: 'own', unit: '', expression: 'x' } }
  const against = { kind: 'value', value: 9.81, error: 0, label: 'book' } as const
  document.calculations = {
    [id(27)]: { order: 0, symbol: 'g', name: '', expression: '1', unit: '', against },
  }
  document.references[id(2)].depth = { reference: [2, 2.1], motion: [3, 3.1] }
  document.locks.scale = { by: id(28), name: 'local person' }
  document.bodies[id(3)].mass = { value: 0.2, error: 0.01 }
  const graph = document.graphs[id(4)]
  graph.also = { [id(29)]: { order: 0, body: id(3), other: null, quantity: 'x' } }
  graph.notes = { [id(30)]: { frame: 12, text: 'here' } }
  graph.handTangent = { from: at, to: { x: 5, y: 6 } }
  graph.derivation = { ...document.derivation }
  graph.overlays = { [id(31)]: { order: 0, name: 'sensor', times: [0, 1], values: [2, 3], offset: 0 } }
  document.fits[id(7)].together = {
    [id(32)]: { order: 0, body: id(3), quantity: 'y', model: 'uniform-acceleration' },
  }
  document.fits[id(7)].expected = { reading: 'acceleration', against }
  document.report.blocks = {
    [id(33)]: {
      order: 0,
      pin: { at: '2026-11-30T00:00:00Z', shown: '{}' },
      ...graphBlock(id(4)),
    },
  }
  document.report.printed = { at: '2026-11-30T00:00:00Z', blocks: { [id(33)]: { text: 'a', digest: 'b' } } }
  return document as unknown as Record<string, unknown>
}

/** Fields that documents of this version may leave out. */
const OPTIONAL = ['/drawn/momentum']
/** Keys of entries that come and go: ids, frames, and names of coefficients. */
const isEntry = (path: string) =>
  /\/([0-9a-f-]{36}|\d+)$/.test(path) || /\/(start|fixed|shared)\/[^/]+$/.test(path)

function* pathsIn(value: unknown, path = ''): Generator<string> {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return
  for (const [name, one] of Object.entries(value)) {
    yield `${path}/${name}`
    yield* pathsIn(one, `${path}/${name}`)
  }
}

describe('a document', () => {
  it('may say with which error a point was placed, but nothing else of it', () => {
    const document = JSON.parse(JSON.stringify(rich())) as Investigation
    document.references[id(2)].ends[0].error = 0.7
    document.camera.landmarks[id(23)].marks[10].error = 0.7
    document.bodies[id(3)].marks[10] = { x: 1, y: 2, by: 'hand', error: 0.7 }
    expect(() => checkInvestigation(document)).not.toThrow()
    const places: Record<string, unknown>[] = [
      document.references[id(2)].ends[0],
      document.camera.landmarks[id(23)].marks[10],
      document.bodies[id(3)].marks[10],
    ].map((place) => place as unknown as Record<string, unknown>)
    for (const place of places)
      for (const error of [-1, Number.NaN, '0.7', null, 1e9]) {
        const before = place.error
        place.error = error
        expect(() => checkInvestigation(document)).toThrow(RangeError)
        place.error = before
      }
  })

  it('is complete with an entry of every kind', () => {
    expect(() => checkInvestigation(rich())).not.toThrow()
  })

  it.each([...pathsIn(rich())].filter((path) => !isEntry(path) && !OPTIONAL.includes(path)))(
    'is refused without %s',
    (path) => {
      const document = rich()
      const steps = path.slice(1).split('/')
      const parent = steps.slice(0, -1).reduce((at, step) => at[step] as Record<string, unknown>, document)
      delete parent[steps.at(-1)!]
      expect(() => checkInvestigation(document)).toThrow(RangeError)
    },
  )
})
