import {
  type CanvasContext,
  CanvasPen,
  describeGraph,
  drawGraph,
  type GraphStyle,
  layoutOf,
  limitsOf,
  SvgPen,
  slopesOf,
  ticksOf,
} from '@apokinema/core/graphs'
import { edit, edits, type Graph, newGraph } from '@apokinema/core/investigation'
import { motionTable } from '@apokinema/core/motion'
import { type Canvas, createCanvas, loadImage, Path2D } from '@napi-rs/canvas'
import { describe, expect, it } from 'vitest'
import { BLOCK_IDS, markedBlocks } from './markedBlocks.ts'

/** One description of a graph, drawn by two back ends: they show the same. */

const IDS = BLOCK_IDS
const STYLE: GraphStyle = {
  width: 640,
  height: 400,
  ink: '#1e2526',
  muted: '#5c6664',
  line: '#ddd8cc',
  ground: '#ffffff',
  colours: { coral: '#e0533d', jade: '#1e9e6a', iris: '', cyan: '', rose: '', olive: '' },
  words: 'sans-serif',
  numbers: 'sans-serif',
  grid: true,
  look: 'both',
  errorBars: true,
}

const investigation = edit(markedBlocks(['large <block>', 'small block']), (draft) => {
  for (const id of IDS) edits.setBreak(id, 33, 'break')(draft)
}).document

const described = (graph: Graph) =>
  describeGraph(investigation, graph, ({ body }) => motionTable(investigation, body))!

function drawn(graph: Graph, style: GraphStyle = STYLE) {
  const description = described(graph)
  const points = description.series.flatMap((one) => one.points)
  const limits = {
    across: limitsOf(
      description.across,
      points.map(({ x }) => x),
    ),
    up: limitsOf(
      description.up,
      points.map(({ y }) => y),
    ),
  }
  const extras = {
    curves: [
      [
        { x: 0.2, y: 8 },
        { x: 0.9, y: -34 },
      ],
    ],
    notes: [{ x: points[20].x, y: points[20].y, text: 'here & now' }],
    names: Object.fromEntries(Object.entries(investigation.bodies).map(([id, { name }]) => [id, name])),
  }
  const pen = new SvgPen(style.width, style.height)
  drawGraph(pen, description, limits, extras, style)
  const canvas = createCanvas(style.width, style.height)
  const context = canvas.getContext('2d')
  drawGraph(
    new CanvasPen(
      context as unknown as CanvasContext<Path2D>,
      style.width,
      style.height,
      (path) => new Path2D(path),
    ),
    ...([description, limits, extras, style] as const),
  )
  return { description, limits, svg: pen.text(), canvas }
}

const pixelsOf = (canvas: Canvas) =>
  canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height).data

async function rasterised(svg: string) {
  const canvas = createCanvas(STYLE.width, STYLE.height)
  canvas.getContext('2d').drawImage(await loadImage(Buffer.from(svg)), 0, 0)
  return canvas
}

/** Share of the pixels of a rectangle that differ clearly. */
function difference(
  a: Uint8ClampedArray,
  b: Uint8ClampedArray,
  inside: (x: number, y: number) => boolean,
): number {
  let [off, all] = [0, 0]
  for (let at = 0; at < a.length; at += 4) {
    const pixel = at / 4
    if (!inside(pixel % STYLE.width, Math.floor(pixel / STYLE.width))) continue
    all++
    const far = Math.max(...[0, 1, 2].map((k) => Math.abs(a[at + k] - b[at + k])))
    if (far > 90) off++
  }
  return off / all
}

const withBoth: Graph = {
  ...newGraph(0, IDS[0], 'x'),
  also: { [IDS[1]]: { order: 0, body: IDS[1], other: null, quantity: 'x' } },
}

describe('a graph by two back ends', () => {
  it('is the same picture, whether it was drawn on a canvas or as SVG', async () => {
    const { svg, canvas, limits, description } = drawn(withBoth)
    const at = layoutOf(description, limits, STYLE)
    const inside = (x: number, y: number) => x > at.left && x < at.right && y > at.top && y < at.bottom
    const [one, other] = [pixelsOf(canvas), pixelsOf(await rasterised(svg))]
    expect(difference(one, other, inside)).toBeLessThan(0.004)
    // It is not the same because both are empty.
    const blank = createCanvas(STYLE.width, STYLE.height)
    blank.getContext('2d').fillStyle = '#ffffff'
    blank.getContext('2d').fillRect(0, 0, STYLE.width, STYLE.height)
    expect(difference(one, pixelsOf(blank), inside)).toBeGreaterThan(0.02)
  })

  it('has its points where its scales say, in the colour of the body', () => {
    const { canvas, limits, description } = drawn(
      { ...newGraph(0, IDS[0], 'x') },
      { ...STYLE, look: 'points', errorBars: false, grid: false },
    )
    const at = layoutOf(description, limits, STYLE)
    const pixels = pixelsOf(canvas)
    for (const { x, y } of description.series[0].points.filter((_, i) => i % 7 === 0)) {
      const pixel = 4 * (Math.round(at.y(y)) * STYLE.width + Math.round(at.x(x)))
      const [r, g, b] = pixels.slice(pixel, pixel + 3)
      expect(r).toBeGreaterThan(g + 60)
      expect(r).toBeGreaterThan(b + 60)
    }
  })

  it('lets nothing that somebody has typed become markup', () => {
    const { svg } = drawn({ ...withBoth, title: '<script>alert(1)</script>' })
    expect(svg).not.toContain('<script')
    expect(svg).toContain('large &lt;block&gt;')
    expect(svg).toContain('here &amp; now')
  })

  it('can be drawn on nothing', () => {
    const { canvas, svg } = drawn(withBoth, { ...STYLE, ground: null })
    expect(pixelsOf(canvas)[3]).toBe(0)
    expect(svg).not.toContain('<rect width="640"')
  })
})

describe('the description of a graph', () => {
  it('goes against another quantity, through transforms, with errors to first order', () => {
    const graph = newGraph(0, IDS[0], 'vx', 'x')
    const plain = described(graph).series[0].points
    const squared = described({ ...graph, scaleUp: { ...graph.scaleUp, transform: 'square' } })
    expect(squared.up.unit).toBe('px²/s²')
    expect(squared.series[0].points).toHaveLength(plain.length)
    squared.series[0].points.forEach((point, i) => {
      expect(point.y).toBeCloseTo(plain[i].y ** 2, 9)
      expect(point.errorY).toBeCloseTo(2 * Math.abs(plain[i].y) * plain[i].errorY, 9)
      expect(point.errorX).toBe(plain[i].errorX)
    })
  })

  it('says how many points a logarithm has no place for', () => {
    const graph = newGraph(0, IDS[0], 'x')
    const { points, note } = described({ ...graph, scaleUp: { ...graph.scaleUp, transform: 'ln' } }).series[0]
    const { values } = motionTable(investigation, IDS[0]).column('x')
    expect(points).toHaveLength(values.filter((value) => value > 0).length)
    expect(note).toMatch(/no place on these scales/)
  })

  it('leaves out what has another unit, and is none where its quantity is gone', () => {
    const also = { [IDS[1]]: { order: 0, body: IDS[1], other: null, quantity: 'vx' } }
    expect(described({ ...newGraph(0, IDS[0], 'x'), also }).series).toHaveLength(1)
    const gone = newGraph(0, IDS[0], 'b2000000-0000-4000-8000-00000000dead')
    expect(describeGraph(investigation, gone, ({ body }) => motionTable(investigation, body))).toBeNull()
  })
})

describe('scales', () => {
  it.each([
    [0, 1, 5, [0, 0.2, 0.4, 0.6, 0.8, 1]],
    [-0.13, 0.41, 4, [0, 0.2, 0.4]],
    [-35, 35, 7, [-30, -20, -10, 0, 10, 20, 30]],
    [1e-5, 3.2e-5, 3, [1e-5, 2e-5, 3e-5]],
  ])('from %d to %d have round ticks', (from, to, wanted, ticks) => {
    expect(ticksOf({ from, to }, false, wanted)).toEqual(ticks)
  })

  it('that are logarithmic have powers of ten, with 2 and 5 times them where there are few', () => {
    expect(ticksOf({ from: 1, to: 100 }, true, 5)).toEqual([1, 2, 5, 10, 20, 50, 100])
    expect(ticksOf({ from: 0.001, to: 1000 }, true, 5)).toEqual([0.001, 0.01, 0.1, 1, 10, 100, 1000])
  })

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
    const rooted = described({ ...graph, scaleUp: { ...graph.scaleUp, transform: 'root' as const } })
    expect(rooted.overlays[0].points.map(({ x }) => x)).toEqual([0.5, 2.5])
    expect(described({ ...graph, across: 'y' }).overlays).toEqual([])
    expect(drawn(graph).svg).toContain('sensor')
  })
})

describe('the tangent', () => {
  const table = motionTable(investigation, IDS[0])

  it.each([
    ['three-point', 3],
    ['cubic', 4],
  ] as const)('has the slope that the derivative has, by %s', (method, reach) => {
    const own = motionTable(investigation, IDS[0], { derivation: { method, reach, weighted: false } })
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
