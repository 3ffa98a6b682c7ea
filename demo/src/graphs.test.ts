import { analyse } from '@apokinema/core/analysis'
import { describeGraph, limitsOf, slopesOf } from '@apokinema/core/graphs'
import { edit, edits, type Graph, newGraph } from '@apokinema/core/investigation'
import { describe, expect, it } from 'vitest'
import { BLOCK_IDS, markedBlocks } from './markedBlocks.ts'

/** What a graph shows, whatever draws it. */

const IDS = BLOCK_IDS

const investigation = edit(markedBlocks(['large <block>', 'small block']), (draft) => {
  for (const id of IDS) edits.setBreak(id, 33, 'break')(draft)
}).document

const described = (graph: Graph) =>
  describeGraph(
    investigation,
    graph,
    ({ body }) => analyse(investigation).table(body),
    (id) => analyse(investigation).quantity(id),
  )!

describe('the description of a graph', () => {
  it('goes against another quantity, through transforms, with errors to first order', () => {
    const graph = newGraph(0, IDS[0], 'vx', 'x')
    const plain = described(graph).series[0].points
    const squared = described({ ...graph, scaleY: { ...graph.scaleY, transform: 'square' } })
    expect(squared.y.unit).toBe('px²/s²')
    expect(squared.series[0].points).toHaveLength(plain.length)
    squared.series[0].points.forEach((point, i) => {
      expect(point.y).toBeCloseTo(plain[i].y ** 2, 9)
      expect(point.errorY).toBeCloseTo(2 * Math.abs(plain[i].y) * plain[i].errorY, 9)
      expect(point.errorX).toBe(plain[i].errorX)
    })
  })

  it('says how many points a logarithm has no place for', () => {
    const graph = newGraph(0, IDS[0], 'x')
    const { points, note } = described({ ...graph, scaleY: { ...graph.scaleY, transform: 'ln' } }).series[0]
    const { values } = analyse(investigation).table(IDS[0]).column('x')
    expect(points).toHaveLength(values.filter((value) => value > 0).length)
    expect(note).toEqual({ code: 'off-scale', points: values.length - points.length })
  })

  it('leaves out what has another unit, and is none where its quantity is gone', () => {
    const also = { [IDS[1]]: { order: 0, body: IDS[1], other: null, quantity: 'vx' } }
    expect(described({ ...newGraph(0, IDS[0], 'x'), also }).series).toHaveLength(1)
    const gone = newGraph(0, IDS[0], 'b2000000-0000-4000-8000-00000000dead')
    expect(analyse(investigation).graph(gone)).toBeNull()
  })
})

describe('scales', () => {
  it('go as far as the values, with zero or limits where somebody wants them', () => {
    const auto = { from: null, to: null, zero: false, log: false }
    expect(limitsOf(auto, [2, 4])).toEqual({ from: 1.88, to: 4.12 })
    expect(limitsOf({ ...auto, zero: true }, [2, 4])).toEqual({ from: 0, to: 4.12 })
    expect(limitsOf({ ...auto, from: -1 }, [2, 4])).toEqual({ from: -1, to: 4.12 })
    expect(limitsOf({ ...auto, from: 9, to: 3 }, [2, 4])).toEqual({ from: 3, to: 9 })
    expect(limitsOf(auto, [])).toEqual({ from: -0.06, to: 1.06 })
    expect(limitsOf({ ...auto, log: true }, [-1, 10, 1000]).from).toBeLessThan(10)
    expect(limitsOf({ ...auto, log: true }, [-1, 10, 1000]).from).toBeGreaterThan(0)
  })
})

describe('a series from elsewhere', () => {
  it('is drawn in the unit of the graph, moved in time, through its transform', () => {
    const overlay = { order: 0, name: 'sensor', times: [0, 1, 2], values: [1, -2, 3], offset: 0.5 }
    const graph = { ...newGraph(0, IDS[0], 'x'), overlays: { [IDS[1]]: overlay } }
    expect(described(graph).overlays[0].points).toEqual([
      { x: 0.5, y: 1 },
      { x: 1.5, y: -2 },
      { x: 2.5, y: 3 },
    ])
    const rooted = described({ ...graph, scaleY: { ...graph.scaleY, transform: 'root' as const } })
    expect(rooted.overlays[0].points.map(({ x }) => x)).toEqual([0.5, 2.5])
    expect(described({ ...graph, xQuantity: 'y' }).overlays).toEqual([])
  })
})

describe('the tangent', () => {
  const table = analyse(investigation).table(IDS[0])

  it.each([
    ['three-point', 3],
    ['cubic', 4],
  ] as const)('has the slope that the derivative has, by %s', (method, reach) => {
    const own = analyse(investigation).table(IDS[0], { derivation: { method, reach, weighted: false } })
    const slopes = slopesOf(own, 'x', { method, reach, weighted: false })
    const { rows, values, errors } = own.column('vx')
    expect(slopes.map(({ row }) => row)).toEqual(rows)
    for (const { row, slope, error } of slopes) {
      expect(slope).toBeCloseTo(values[row], 9)
      expect(error).toBeCloseTo(errors[row], 9)
    }
  })

  it('is none across a break, and knows which marks a velocity’s neighbours share', () => {
    const slopes = slopesOf(table, 'vx', { method: 'three-point', reach: 3, weighted: false })
    const broken = table.frames.indexOf(33)
    expect(slopes.some(({ row }) => Math.abs(row - broken) < 2)).toBe(false)
    // (x₄ − 2x₂ + x₀)/4h²: errors of 1, 2 and 1 parts.
    const own = table.column('x').errors[10]
    expect(slopes.find(({ row }) => row === 10)!.error).toBeCloseTo((own * Math.sqrt(6) * 900) / 4, 6)
  })
})
