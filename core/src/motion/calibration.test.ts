import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { fitColumn, fitPath, halfWidth } from '../fitting/index.ts'
import { directionInPicture, type Point, type Similarity, similarityStep } from '../geometry/index.ts'
import { axesOf, edit, edits, type Investigation, type Mutator } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { referenceReports } from '../scene/index.ts'
import { THROWN, thrown } from '../testing/thrown.ts'

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
const STAFF = id(2)
const whole = { from: 0, to: 1000 }
const at = (x: number, y: number, frame = 0) => ({ x, y, frame })
const changed = (document: Investigation, ...mutators: Mutator[]) =>
  mutators.reduce((done, mutator) => edit(done, mutator).document, document)
const fall = (document: Investigation, axes: string | null = null) =>
  fitColumn(analyse(document).table(THROWN.body, { axes }), 'y', whole, { model: 'uniform-acceleration' })

describe('the scale of an investigation', () => {
  it('rests on all reference lengths that are for it; one for checking changes nothing', () => {
    // Another 1.40 m staff that is seen 3 % smaller.
    const ends: [ReturnType<typeof at>, ReturnType<typeof at>] = [at(100, 475), at(100, 475 - 315 / 1.03)]
    const two = changed(
      thrown({}),
      edits.addReference(id(20), ends),
      edits.changeReference(id(20), { length: 1.4 }),
    )
    const scale = analyse(two).scene().scale!
    expect(scale.count).toBe(2)
    expect(scale.spread).toBeCloseTo(0.03, 9)
    expect(scale.metresPerPixel).toBeGreaterThan(1.4 / 315)
    expect(scale.metresPerPixel).toBeLessThan((1.4 / 315) * 1.03)
    const checking = changed(two, edits.changeReference(id(20), { use: 'check' }))
    expect(analyse(checking).scene().scale!.metresPerPixel).toBeCloseTo(1.4 / 315, 12)
    const [, report] = referenceReports(checking, analyse(checking).scene())
    expect(report.off).toBeCloseTo(1 / 1.03 - 1, 9)
    expect(report.sigmas).toBeGreaterThan(5)
    expect(report.angle!.value).toBeCloseTo(Math.PI / 2, 9)
  })

  it('of a ruler that is 10 % nearer than the motion is put right by the two distances', () => {
    // The staff looks 1/0.9 times as long as it would in the plane of motion.
    const near = changed(
      thrown({}),
      edits.changeReference(STAFF, { ends: [at(760, 475), at(760, 475 - 315 / 0.9)] }),
    )
    expect(fall(near).reading.value).toBeCloseTo(-9.81 * 0.9, 6)
    const told = changed(
      near,
      edits.changeReference(STAFF, { depth: { reference: [2.7, 2.7], motion: [3, 3] } }),
    )
    expect(fall(told).reading.value).toBeCloseTo(-9.81, 6)
    expect(referenceReports(told, analyse(told).scene())[0].off).toBeCloseTo(0, 12)
    const ranges = changed(
      near,
      edits.changeReference(STAFF, { depth: { reference: [2.6, 2.8], motion: [3, 3] } }),
    )
    const { reading } = fall(ranges)
    const depth = reading.parts.find(({ source }) => source === 'depth')!
    expect(depth.error / Math.abs(reading.value)).toBeCloseTo(0.1 / Math.sqrt(3) / 2.7, 9)
  })

  it.each(['y', 'vy'] as const)('can come from a known motion, read from %s', (quantity) => {
    const graph = quantity === 'y' ? THROWN.position : THROWN.velocity
    const free = changed(
      thrown({}),
      edits.removeReference(STAFF),
      edits.addStretch(id(30), graph, 0, 49),
      edits.setKnownMotion(id(31), { stretch: id(30), derivative: 2, value: 9.81, error: 0.0981 }),
    )
    const scene = analyse(free).scene()
    expect(scene.scale!.metresPerPixel).toBeCloseTo(1.4 / 315, 9)
    const { reading } = fitColumn(analyse(free).table(THROWN.body), quantity, whole, {
      model: 'uniform-acceleration',
    })
    expect(reading.value).toBeCloseTo(-9.81, 6)
    expect(reading.unit).toBe('m/s²')
    // A percent of what is known is a percent of every length.
    const length = reading.parts.find(({ source }) => source === 'length')!
    expect(length.error / 9.81).toBeCloseTo(0.01, 4)
    // Without the stretch that it stands on it is forgotten.
    const gone = changed(free, edits.removeStretch(id(30)))
    expect(gone.knownMotions).toEqual({})
    expect(analyse(gone).scene().length).toBe('px')
  })
})

describe('axes', () => {
  it('turn one direction without the other, and every number with it', () => {
    const down = changed(thrown({}), edits.setAxes({ turnedY: true }))
    expect(fall(down).reading.value).toBeCloseTo(9.81, 6)
    expect(analyse(down).table(THROWN.body).column('x').values[10]).toBeGreaterThan(0)
    const left = changed(thrown({}), edits.setAxes({ turnedX: true }))
    expect(analyse(left).table(THROWN.body).column('x').values[10]).toBeLessThan(0)
  })

  it('kept by name measure the same marks side by side', () => {
    const two = changed(
      thrown({}),
      edits.addAxes(id(40), 'down the ramp'),
      edits.setAxes({ tilt: Math.PI / 2, origin: at(0, 0) }, id(40)),
    )
    expect(axesOf(two).name).toBe('down the ramp')
    const [first] = Object.keys(two.axes)
    expect(fall(two, first).reading.value).toBeCloseTo(-9.81, 6)
    const along = fitColumn(analyse(two).table(THROWN.body), 'x', whole, { model: 'uniform-acceleration' })
    expect(along.reading.value).toBeCloseTo(-9.81, 6)
    const back = changed(two, edits.removeAxes(id(40)))
    expect(back.mainAxes).toBe(first)
    expect(Object.keys(changed(back, edits.removeAxes(first)).axes)).toEqual([first])
  })
})

/** Returns a camera that pans, zooms from 1 to 0.55 and rolls by 2° while it films: scene (pixels of frame 0) to a frame's picture. */
function filmed(frame: number): Similarity {
  const share = frame / 49
  const zoom = 1 - 0.45 * share
  const roll = (2 * share * Math.PI) / 180
  return { a: zoom * Math.cos(roll), b: zoom * Math.sin(roll), x: 90 * share, y: 40 * share }
}

function filmedThrow(options: { every: number; noise?: () => number; lines?: Point[] }): Investigation {
  const {
    every,
    noise = () => 0,
    lines = [
      { x: 300, y: 100 },
      { x: 1000, y: 250 },
    ],
  } = options
  let frame = 0
  const seen = (point: Point, of: number) => {
    const { x, y } = similarityStep(filmed(of)).forward(point)
    return { x: x + noise(), y: y + noise() }
  }
  const still = thrown({ place: (point) => seen(point, frame++) })
  const landmarks: Mutator[] = lines.flatMap((point, i) => {
    const frames = Array.from({ length: 50 }, (_, n) => n).filter((n) => n % every === 0 || n === 49)
    return [
      edits.addLandmark(id(50 + i), 0, seen(point, 0)),
      ...frames.slice(1).map((n) => edits.markLandmark(id(50 + i), n, seen(point, n))),
    ]
  })
  return changed(still, edits.setCameraMotion('tilted'), ...landmarks)
}

describe('a camera that moves', () => {
  it('is undone: the same acceleration as from a camera that stood still', () => {
    const document = filmedThrow({ every: 1 })
    expect(fall(changed(document, edits.setCameraMotion('still'))).reading.value).not.toBeCloseTo(-9.81, 0)
    expect(fall(document).reading.value).toBeCloseTo(-9.81, 6)
  })

  it('takes the reference length and the origin from whichever frame they were placed in', () => {
    const end = (y: number, frame: number) => ({
      ...similarityStep(filmed(frame)).forward({ x: 760, y }),
      frame,
    })
    const document = changed(
      filmedThrow({ every: 1 }),
      edits.changeReference(STAFF, { ends: [end(475, 30), end(160, 30)] }),
      edits.setAxes({ origin: { ...similarityStep(filmed(20)).forward({ x: 238, y: 560 }), frame: 20 } }),
    )
    const table = analyse(document).table(THROWN.body)
    expect(analyse(document).scene().scale!.metresPerPixel).toBeCloseTo(1.4 / 315, 9)
    expect(table.column('x').values[0]).toBeCloseTo(0, 9)
    expect(table.column('y').values[0]).toBeCloseTo(0, 9)
  })

  it('leaves out frames in which no landmark is seen, and keeps their marks', () => {
    const document = changed(filmedThrow({ every: 1 }), edits.changeLandmark(id(51), { gone: 30 }))
    expect(analyse(document).table(THROWN.body).frames.at(-1)).toBe(29)
    expect(Object.keys(document.bodies[THROWN.body].marks)).toHaveLength(50)
  })

  it('has a part in the error budget that grows where landmarks are marked seldom', () => {
    const part = (every: number) =>
      fall(filmedThrow({ every })).reading.parts.find(({ source }) => source === 'camera')!.error
    expect(part(1)).toBeGreaterThan(0)
    expect(part(12)).toBeGreaterThan(2 * part(1))
    expect(fall(thrown({})).reading.parts.find(({ source }) => source === 'camera')).toBeUndefined()
  })

  it.each([1, 7])('has intervals that cover the truth, landmarks marked in every %s. frame', (every) => {
    let held = 0
    for (let repeat = 0; repeat < 200; repeat++) {
      const noise = normalSource(randomSource(900 + repeat))
      const document = filmedThrow({ every, noise: () => 0.5 * noise() })
      const { reading } = fall(document)
      if (Math.abs(reading.value + 9.81) <= halfWidth(reading)) held++
    }
    // Landmarks that are marked in every frame are in the scatter, too: then it is a little on the safe side.
    expect(held / 200).toBeGreaterThanOrEqual(0.92)
  })
})

describe('the path of a throw that a moving camera filmed', () => {
  const bend = (document: Investigation) =>
    fitPath(analyse(document).table(THROWN.body), 'y', 'x', whole, {
      model: 'uniform-acceleration',
    }).readings.find(({ key }) => key === 'bend')!

  it('has an interval that covers the truth, with a part for its landmarks', () => {
    let held = 0
    for (let repeat = 0; repeat < 200; repeat++) {
      const noise = normalSource(randomSource(1900 + repeat))
      const reading = bend(filmedThrow({ every: 7, noise: () => 0.5 * noise() }))
      expect(reading.parts.find(({ source }) => source === 'camera')!.error).toBeGreaterThan(0)
      if (Math.abs(reading.value + 9.81 / 2.6 ** 2) <= halfWidth(reading)) held++
    }
    expect(held / 200).toBeGreaterThanOrEqual(0.92)
    expect(bend(thrown({})).parts.find(({ source }) => source === 'camera')).toBeUndefined()
  })
})

describe('nothing of the calibration', () => {
  it('changes the marks', () => {
    const document = changed(
      thrown({}),
      edits.setLengthUnit('ft'),
      edits.addReference(id(20), [at(0, 0), at(10, 10)]),
      edits.setAxes({ tilt: 1, turnedX: true }),
      edits.setPlaneCorners([at(100, 600), at(900, 620), at(880, 200), at(120, 180)]),
      edits.changePlane({ width: 2, height: 1 }),
      edits.setLensCoefficient(-0.08),
      edits.setCameraMotion('turned'),
      edits.addLandmark(id(50), 0, { x: 3, y: 4 }),
      edits.setGravity({ direction: 0, error: 0 }),
    )
    expect(document.bodies).toEqual(thrown({}).bodies)
    expect(analyse(document).table(THROWN.body).picture).toEqual(
      analyse(thrown({})).table(THROWN.body).picture,
    )
  })
})

describe('a plane that is seen at an angle, through a lens with distortion', () => {
  it('is measured right all over', () => {
    // The staff's plane as a pinhole camera sees it from 25° aside, then bulged.
    const turn = (25 * Math.PI) / 180
    const pixels = 315 / 1.4
    const distort = (point: Point) => {
      const [dx, dy, unit] = [point.x - 640, point.y - 360, Math.hypot(640, 360)]
      const by = 1 - 0.08 * ((dx * dx + dy * dy) / unit ** 2)
      return { x: 640 + dx * by, y: 360 + dy * by }
    }
    const seen = ({ x, y }: Point) => {
      const [right, up] = [(x - 640) / pixels, (360 - y) / pixels]
      const away = 6 + right * Math.sin(turn)
      return distort({ x: 640 + (1300 * right * Math.cos(turn)) / away, y: 360 - (1300 * up) / away })
    }
    const corner = (x: number, y: number) => at(seen({ x, y }).x, seen({ x, y }).y)
    const document = changed(
      thrown({ place: seen }),
      edits.setLensCoefficient(-0.08),
      edits.setPlaneCorners([corner(300, 560), corner(980, 560), corner(980, 200), corner(300, 200)]),
      edits.changePlane({ width: 680 / pixels, height: 360 / pixels }),
      // Along the plane's own horizontal, which the picture shows tilted.
      edits.setAxes({
        origin: { ...seen({ x: 238, y: 560 }), frame: 0 },
        tilt: directionInPicture(seen({ x: 237.5, y: 560 }), seen({ x: 238.5, y: 560 })),
      }),
    )
    expect(fall(document).reading.value).toBeCloseTo(-9.81, 6)
    expect(fall(document).reading.parts.find(({ source }) => source === 'placing')!.error).toBeGreaterThan(0)
    const askew = changed(document, edits.removePlane())
    expect(Math.abs(fall(askew).reading.value / 9.81 + 1)).toBeGreaterThan(0.01)
  })
})
