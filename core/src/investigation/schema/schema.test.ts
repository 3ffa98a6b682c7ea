// biome-ignore-all lint/suspicious/noExplicitAny: documents are spoiled here on purpose
import { describe, expect, it } from 'vitest'
import { full, id } from '../../testing/built.ts'
import { applyPatch, checkInvestigation, FIRST_AXES } from '../index.ts'

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
        d.outlierLimit = 0.1
      },
    ],
    [
      'a graph of a body that there is not',
      (d) => {
        d.graphs[id(4)].body = id(50)
      },
    ],
    [
      'a graph of a quantity that there is not',
      (d) => {
        d.graphs[id(4)].quantity = id(50)
      },
    ],
    [
      'a stretch of a graph that there is not',
      (d) => {
        d.stretches[id(6)].graph = id(50)
      },
    ],
    [
      'a fit of a stretch that there is not',
      (d) => {
        d.fits[id(7)].stretch = id(50)
      },
    ],
    [
      'an axis that ends nowhere',
      (d) => {
        d.graphs[id(4)].scaleY.to = Number.POSITIVE_INFINITY
      },
    ],
    [
      'holes in a list',
      (d) => {
        d.timing.repeats = { frames: [3], use: 'keep', originalRate: null }
        d.timing.repeats.frames.length = 9
      },
    ],
    [
      'holes in a list of numbers',
      (d) => {
        const times = [0, 1]
        times.length = 4
        d.graphs[id(4)].overlays[id(30)] = { order: 0, name: 'log', times, values: [1, 2, 3, 4], offset: 0 }
      },
    ],
    [
      'more bodies than there may be',
      (d) => {
        for (let n = 0; n < 101; n++) d.bodies[id(100 + n)] = d.bodies[id(3)]
      },
    ],
    [
      'more marks than there may be',
      (d) => {
        for (let frame = 0; frame < 100_001; frame++)
          d.bodies[id(3)].marks[frame] = { x: 1, y: 1, by: 'hand' }
      },
    ],
    [
      'half a character',
      (d) => {
        d.bodies[id(3)].name = 'half \ud83d'
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

  it('that was found sound does not make another sound that differs from it in one place', () => {
    const document = checkInvestigation(full())
    const path = `/bodies/${id(3)}/marks/12/x`
    for (const value of ['4', null, Number.NaN])
      expect(() => checkInvestigation(applyPatch(document, [{ op: 'replace', path, value }]))).toThrow(
        RangeError,
      )
    const moved = [{ op: 'replace' as const, path, value: 5 }]
    expect(checkInvestigation(applyPatch(document, moved)).bodies[id(3)].marks[12].x).toBe(5)
  })

  it('that can be changed afterwards is looked at again', () => {
    const document = JSON.parse(JSON.stringify(full()))
    checkInvestigation(document)
    document.bodies[id(3)].marks[12].x = 'far'
    expect(() => checkInvestigation(document)).toThrow(RangeError)
  })
})
