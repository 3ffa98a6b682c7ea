import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  type Corners,
  cornerProblem,
  directionInPicture,
  distance,
  fitLens,
  fitSimilarity,
  inCornerOrder,
  lensStep,
  type Matrix2,
  type Point,
  planeStep,
  type Similarity,
  similarityStep,
  turnOf,
  wrapAngle,
  zoomOf,
} from './index.ts'
import { type Calibration, type PlacedAxes, sceneTransform } from './scene.ts'

const PICTURE = { width: 1280, height: 720 }
const within = (min: number, max: number) => fc.double({ min, max, noNaN: true })
const pointIn = fc.record({ x: within(0, PICTURE.width), y: within(0, PICTURE.height) })
const angle = within(-Math.PI, Math.PI)

/** Corners of a rectangle that is seen at an angle, all of them well away from each other. */
const askew = fc
  .record({
    dx: fc.array(within(-90, 90), { minLength: 4, maxLength: 4 }),
    dy: fc.array(within(-90, 90), { minLength: 4, maxLength: 4 }),
  })
  .map(
    ({ dx, dy }) =>
      [
        [240, 580],
        [1040, 580],
        [1040, 140],
        [240, 140],
      ].map(([x, y], i) => ({ x: x + dx[i], y: y + dy[i] })) as Corners,
  )

const camera: fc.Arbitrary<Similarity> = fc
  .record({ zoom: within(0.5, 2), turn: within(-0.2, 0.2), x: within(-400, 400), y: within(-400, 400) })
  .map(({ zoom, turn, x, y }) => ({ a: zoom * Math.cos(turn), b: zoom * Math.sin(turn), x, y }))

const axes: fc.Arbitrary<PlacedAxes> = fc.record({
  origin: pointIn,
  tilt: angle,
  turnedX: fc.boolean(),
  turnedY: fc.boolean(),
  camera: fc.option(camera),
})

const calibration: fc.Arbitrary<Calibration> = fc.record({
  lens: fc.option(within(-0.12, 0.12).map((k1) => lensStep(k1, PICTURE))),
  camera: fc.option(camera),
  plane: fc.option(
    fc.tuple(askew, within(0.5, 5), within(0.5, 5)).map(([corners, w, h]) => planeStep(corners, w, h)!),
  ),
  metresPerPixel: fc.option(within(1e-4, 1e-1)),
})

const still: Calibration = { lens: null, camera: null, plane: null, metresPerPixel: 0.01 }
const level: PlacedAxes = {
  origin: { x: 100, y: 200 },
  tilt: 0,
  turnedX: false,
  turnedY: false,
  camera: null,
}

/** Derivative by central differences. */
function slopes(map: (point: Point) => Point, { x, y }: Point, h: number): Matrix2 {
  const along = (dx: number, dy: number) => {
    const [on, back] = [map({ x: x + dx, y: y + dy }), map({ x: x - dx, y: y - dy })]
    return [(on.x - back.x) / (2 * h), (on.y - back.y) / (2 * h)]
  }
  const [[a, c], [b, d]] = [along(h, 0), along(0, h)]
  return [
    [a, b],
    [c, d],
  ]
}

describe('scene transform', () => {
  it('goes to the scene and back, through every step together', () => {
    fc.assert(
      fc.property(axes, calibration, pointIn, (placed, steps, point) => {
        const scene = sceneTransform(placed, steps)
        const at = scene.toScene(point)
        fc.pre(Math.hypot(at.x, at.y) < 1e4)
        expect(distance(scene.toPicture(at), point)).toBeLessThan(1e-9 * Math.max(1, PICTURE.width))
      }),
    )
  })

  it('has the derivative that differences have', () => {
    fc.assert(
      fc.property(axes, calibration, pointIn, (placed, steps, point) => {
        const scene = sceneTransform(placed, steps)
        const size = (m: Matrix2) => Math.hypot(...m.flat())
        const exact = scene.jacobian(point)
        fc.pre(size(exact) < 10 && distance(scene.toScene(point), { x: 0, y: 0 }) < 100)
        const near = slopes(scene.toScene, point, 0.01)
        const off = exact.flatMap((row, i) => row.map((value, k) => value - near[i][k]))
        expect(Math.hypot(...off)).toBeLessThan(1e-5 * size(exact) + 1e-9)
      }),
    )
  })

  it('has y up and x right when level', () => {
    expect(sceneTransform(level, still).toScene({ x: 150, y: 100 })).toEqual({ x: 0.5, y: 1 })
  })

  it('has +x along a line that rises to the right when the tilt is positive', () => {
    const scene = sceneTransform(
      { ...level, origin: { x: 0, y: 0 }, tilt: Math.PI / 6 },
      { ...still, metresPerPixel: null },
    )
    const along = scene.toScene({ x: 100 * Math.cos(Math.PI / 6), y: -100 * Math.sin(Math.PI / 6) })
    expect(along.x).toBeCloseTo(100, 10)
    expect(along.y).toBeCloseTo(0, 10)
  })

  it('turns one direction without the other', () => {
    const at = { x: 150, y: 100 }
    expect(sceneTransform({ ...level, turnedX: true }, still).toScene(at)).toEqual({ x: -0.5, y: 1 })
    expect(sceneTransform({ ...level, turnedY: true }, still).toScene(at)).toEqual({ x: 0.5, y: -1 })
  })

  it('turns the results when the picture is turned: distances stay', () => {
    fc.assert(
      fc.property(pointIn, pointIn, angle, (p, q, by) => {
        const turned = ({ x, y }: Point) => ({
          x: x * Math.cos(by) - y * Math.sin(by),
          y: x * Math.sin(by) + y * Math.cos(by),
        })
        const plain = sceneTransform(level, still)
        const after = sceneTransform({ ...level, origin: turned(level.origin), tilt: -by }, still)
        for (const point of [p, q]) {
          const [a, b] = [plain.toScene(point), after.toScene(turned(point))]
          expect(distance(a, b)).toBeLessThan(1e-9)
        }
      }),
    )
  })

  it('changes only the unit with the scale', () => {
    fc.assert(
      fc.property(pointIn, within(1e-4, 10), (point, factor) => {
        const one = sceneTransform(level, { ...still, metresPerPixel: 1 }).toScene(point)
        const other = sceneTransform(level, { ...still, metresPerPixel: factor }).toScene(point)
        expect(other.x).toBeCloseTo(factor * one.x, 9)
        expect(other.y).toBeCloseTo(factor * one.y, 9)
      }),
    )
  })

  it('undoes a camera that zooms: a point of the scene stays where it is', () => {
    // The second frame shows everything half as large and shifted; its picture is taken back to the first.
    const back: Similarity = { a: 2, b: 0, x: -300, y: -80 }
    const first = sceneTransform(level, still)
    const second = sceneTransform(level, { ...still, camera: back })
    const { backward } = similarityStep(back)
    for (const point of [
      { x: 10, y: 700 },
      { x: 640, y: 360 },
    ])
      expect(distance(first.toScene(point), second.toScene(backward(point)))).toBeLessThan(1e-12)
  })
})

describe('a lens', () => {
  it('that bulges is taken out exactly, and left in by the way back', () => {
    fc.assert(
      fc.property(within(-0.15, 0.3), pointIn, (k1, point) => {
        const step = lensStep(k1, PICTURE)
        expect(distance(step.forward(step.backward(point)), point)).toBeLessThan(1e-9)
      }),
    )
  })

  it('leaves the middle alone and moves the corners by k₁ of half the diagonal', () => {
    const step = lensStep(-0.08, PICTURE)
    expect(step.backward({ x: 640, y: 360 })).toEqual({ x: 640, y: 360 })
    const corner = step.backward({ x: 0, y: 0 })
    expect(distance(corner, { x: 640, y: 360 })).toBeCloseTo(Math.hypot(640, 360) * 0.92, 9)
  })

  it.each([-0.08, 0.05, 0])('with k₁ = %s is found from straight edges, with an honest error', (k1) => {
    const step = lensStep(k1, PICTURE)
    const line = (a: Point, b: Point) =>
      Array.from({ length: 7 }, (_, i) => ({
        x: a.x + (i / 6) * (b.x - a.x),
        y: a.y + (i / 6) * (b.y - a.y),
      }))
    const edges = [line({ x: 60, y: 60 }, { x: 1200, y: 90 }), line({ x: 80, y: 640 }, { x: 1220, y: 660 })]
    let seed = 5
    const noise = () => {
      seed = (seed * 16807) % 2147483647
      return 0.4 * (seed / 2147483647 - 0.5) * Math.sqrt(12)
    }
    const exact = fitLens(
      edges.map((edge) => edge.map(step.backward)),
      PICTURE,
    )!
    expect(exact.k1).toBeCloseTo(k1, 5)
    expect(exact.after).toBeLessThan(1e-3)
    const off: number[] = []
    for (let repeat = 0; repeat < 60; repeat++) {
      const seen = edges.map((edge) =>
        edge.map(step.backward).map((p) => ({ x: p.x + noise(), y: p.y + noise() })),
      )
      const found = fitLens(seen, PICTURE, 0.4)!
      off.push((found.k1 - k1) / found.error)
    }
    const spread = Math.sqrt(off.reduce((sum, z) => sum + z * z, 0) / off.length)
    expect(spread).toBeGreaterThan(0.6)
    expect(spread).toBeLessThan(1.3)
  })

  it('can’t be told by two points, or by an edge through the middle', () => {
    expect(
      fitLens(
        [
          [
            { x: 0, y: 0 },
            { x: 500, y: 0 },
          ],
        ],
        PICTURE,
      ),
    ).toBeNull()
    const through = Array.from({ length: 6 }, (_, i) => ({ x: 200 + i * 176, y: 360 }))
    expect(fitLens([through], PICTURE)).toBeNull()
  })

  it('beyond its limits is refused', () => {
    expect(() => lensStep(-0.9, PICTURE)).toThrow(RangeError)
    expect(() => lensStep(Number.NaN, PICTURE)).toThrow(RangeError)
  })
})

describe('a similarity', () => {
  const from = [
    { x: 100, y: 100 },
    { x: 900, y: 200 },
    { x: 500, y: 600 },
  ]

  it('is found from points, as much of it as the camera can have done', () => {
    fc.assert(
      fc.property(camera, (moved) => {
        const to = from.map(similarityStep(moved).forward)
        const found = fitSimilarity(from, to, 'tilted')!
        expect(zoomOf(found)).toBeCloseTo(zoomOf(moved), 9)
        expect(turnOf(found)).toBeCloseTo(turnOf(moved), 9)
        expect(found.x).toBeCloseTo(moved.x, 6)
        const zoomed = fitSimilarity(from.slice(0, 2), to.slice(0, 2), 'zoomed')!
        expect(zoomed.b).toBe(0)
        const shifted = fitSimilarity(from.slice(0, 1), to.slice(0, 1), 'turned')!
        expect(shifted).toEqual({ a: 1, b: 0, x: to[0].x - from[0].x, y: to[0].y - from[0].y })
      }),
    )
  })

  it('is none where points are too few or coincide', () => {
    expect(fitSimilarity(from.slice(0, 1), from.slice(0, 1), 'zoomed')).toBeNull()
    expect(fitSimilarity([from[0], from[0]], [from[0], from[1]], 'tilted')).toBeNull()
  })
})

describe('a plane that is seen at an angle', () => {
  /** Returns a pinhole camera that looks at the plane z = 0 from a side, turned by `turn` about the plane's upright. */
  const pinhole = (turn: number) => (x: number, y: number) => {
    const [right, away] = [x * Math.cos(turn), 6 + x * Math.sin(turn)]
    return { x: 640 + (1200 * right) / away, y: 360 - (1200 * y) / away }
  }

  it('by 25° is measured right all over', () => {
    const seen = pinhole((25 * Math.PI) / 180)
    const corners: Corners = [seen(-1, -0.5), seen(1, -0.5), seen(1, 0.5), seen(-1, 0.5)]
    const plane = planeStep(corners, 2, 1)!
    for (const x of [-1.8, -0.7, 0, 1.3])
      for (const y of [-0.9, 0.2, 0.8]) {
        const at = plane.forward(seen(x, y))
        expect(at.x).toBeCloseTo(x + 1, 9)
        expect(at.y).toBeCloseTo(y + 0.5, 9)
      }
  })

  it('takes its corners in any order', () => {
    const corners: Corners = [
      { x: 240, y: 580 },
      { x: 1040, y: 600 },
      { x: 980, y: 140 },
      { x: 300, y: 160 },
    ]
    for (const order of [
      [2, 0, 3, 1],
      [3, 2, 1, 0],
      [1, 3, 0, 2],
    ])
      expect(inCornerOrder(order.map((i) => corners[i]) as Corners)).toEqual(corners)
  })

  it('is none where three corners lie in a line, sides cross, or a size is none', () => {
    const square: Corners = [
      { x: 0, y: 100 },
      { x: 100, y: 100 },
      { x: 100, y: 0 },
      { x: 0, y: 0 },
    ]
    expect(cornerProblem(square)).toBeNull()
    expect(cornerProblem([square[0], { x: 50, y: 50 }, square[2], square[3]])).toBe('in-a-line')
    expect(cornerProblem([square[0], square[2], square[1], square[3]])).toBe('crossed')
    expect(planeStep(square, 0, 1)).toBeNull()
    expect(planeStep([square[0], square[0], square[2], square[3]], 1, 1)).toBeNull()
  })
})

describe('angles', () => {
  it('run from right towards up in the picture', () => {
    expect(directionInPicture({ x: 0, y: 0 }, { x: 0, y: -5 })).toBeCloseTo(Math.PI / 2, 12)
  })

  it('are brought into half a turn either way', () => {
    expect(wrapAngle(3 * Math.PI)).toBeCloseTo(Math.PI, 12)
    expect(wrapAngle(-Math.PI)).toBeCloseTo(Math.PI, 12)
    expect(wrapAngle(-0.5)).toBe(-0.5)
  })
})
