// biome-ignore-all lint/suspicious/noExplicitAny: documents are spoiled here on purpose
import { describe, expect, it } from 'vitest'
import { full, id } from '../../testing/built.ts'
import { checkInvestigation, FIRST_AXES } from '../index.ts'

describe('a document', () => {
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
})
