import { describe, expect, it } from 'vitest'
import { axesOf, edit, edits, type Mutator } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { build, footage, id } from '../testing/built.ts'
import { motionAxes, openAxes, type ProposedAxes, takeAxes } from './motionAxes.ts'
import type { StretchLaw } from './stretches.ts'

const ERROR = 0.4
const DEGREE = Math.PI / 180
const noise = normalSource(randomSource(11))

/** Marks of a motion in 60 frames a second, with noise. */
const marks = (count: number, at: (t: number) => { x: number; y: number }) =>
  Array.from({ length: count }, (_, frame) => {
    const { x, y } = at(frame / 60)
    return { frame, t: frame / 60, x: x + ERROR * noise(), y: y + ERROR * noise() }
  })

const rolls = (tilt: number, way = 1) => ({
  law: 'uniform-acceleration' as StretchLaw,
  points: marks(60, (t) => ({
    x: 400 + way * 300 * t * t * Math.cos(tilt),
    y: 300 - 300 * t * t * Math.sin(tilt),
  })),
})
/** A throw in the picture of a camera that is turned. */
const thrown = (lean: number) => (t: number) => {
  const [along, down] = [500 * t, -450 * t + 800 * t * t]
  return {
    x: 200 + along * Math.cos(lean) + down * Math.sin(lean),
    y: 500 - along * Math.sin(lean) + down * Math.cos(lean),
  }
}
const falls = (lean: number, count = 40) => ({
  law: 'uniform-acceleration' as StretchLaw,
  points: marks(count, thrown(lean)),
})
const swings = (amplitude: number) => ({
  law: 'oscillation' as StretchLaw,
  points: marks(240, (t) => {
    const angle = amplitude * Math.cos(3 * t)
    return { x: 640 + 500 * Math.sin(angle), y: -120 + 500 * Math.cos(angle) }
  }),
})
const axes = ({ points, law }: { points: ReturnType<typeof marks>; law: StretchLaw }) =>
  motionAxes(points, law, ERROR, false)

const of = <K extends ProposedAxes['kind']>(kind: K, found: ProposedAxes | null) => {
  expect(found?.kind).toBe(kind)
  return found as ProposedAxes & { kind: K }
}

describe('axes by a motion', () => {
  it('lie along a ramp, from its first mark, and count along the motion', () => {
    const down = of('line', axes(rolls(-12 * DEGREE)))
    expect(down).toMatchObject({
      along: 'x',
      turnedX: false,
      origin: { frame: 0, error: ERROR, is: 'first-mark' },
    })
    expect(Math.abs(down.tilt + 12 * DEGREE)).toBeLessThan(3 * down.tiltError)
    expect(down.tiltError).toBeLessThan(0.1 * DEGREE)
    expect(Math.hypot(down.origin.x - 400, down.origin.y - 300)).toBeLessThan(4 * ERROR)
    const left = of('line', axes(rolls(10 * DEGREE, -1)))
    expect(left.turnedX).toBe(true)
    expect(Math.abs(left.tilt + 10 * DEGREE)).toBeLessThan(3 * left.tiltError)
  })

  it('stand along what falls straight down', () => {
    const straight = of('line', axes(rolls(-89 * DEGREE)))
    expect(straight).toMatchObject({ along: 'y', turnedX: false })
    expect(Math.abs(straight.tilt - 1 * DEGREE)).toBeLessThan(3 * straight.tiltError)
  })

  it('tell by how much the camera leans, with an error that holds over 300 throws', () => {
    let [square, error] = [0, 0]
    for (let n = 0; n < 300; n++) {
      const { tilt, tiltError } = of('fall', axes(falls(1.2 * DEGREE)))
      square += (tilt - 1.2 * DEGREE) ** 2 / 300
      error += tiltError / 300
    }
    expect(Math.sqrt(square) / error).toBeGreaterThan(0.85)
    expect(Math.sqrt(square) / error).toBeLessThan(1.2)
  })

  it('tell that with an error that holds where neighbouring marks of 25 are off alike by 0.8', () => {
    let [square, error] = [0, 0]
    const shared = 0.8
    for (let n = 0; n < 300; n++) {
      const off = { x: noise(), y: noise() }
      const points = marks(25, thrown(1.2 * DEGREE)).map((mark) => {
        for (const axis of ['x', 'y'] as const)
          off[axis] = shared * off[axis] + Math.sqrt(1 - shared ** 2) * noise()
        return { ...mark, x: mark.x + 3 * ERROR * off.x, y: mark.y + 3 * ERROR * off.y }
      })
      const { tilt, tiltError } = of('fall', motionAxes(points, 'uniform-acceleration', ERROR, false))
      square += (tilt - 1.2 * DEGREE) ** 2 / 300
      error += tiltError / 300
    }
    expect(Math.sqrt(square) / error).toBeGreaterThan(0.8)
    expect(Math.sqrt(square) / error).toBeLessThan(1.25)
  })

  it('are none where what bends does not fall downwards', () => {
    expect(axes(falls(70 * DEGREE))).toBeNull()
  })

  it('have their origin at the pivot of a swing, with an error that holds over 200 swings', () => {
    let [square, error] = [0, 0]
    for (let n = 0; n < 200; n++) {
      const { origin } = of('pivot', axes(swings(0.5)))
      square += ((origin.x - 640) ** 2 + (origin.y + 120) ** 2) / 2 / 200
      error += origin.error / 200
    }
    expect(Math.sqrt(square) / error).toBeGreaterThan(0.85)
    expect(Math.sqrt(square) / error).toBeLessThan(1.2)
  })

  it('have no pivot where the arc is too flat to tell it', () => {
    expect(axes(swings(0.03))?.kind).not.toBe('pivot')
  })

  it('have their origin in the middle of what goes to and fro along a line', () => {
    const bobs = marks(300, (t) => ({ x: 300, y: 400 + 90 * Math.cos(4 * Math.PI * t) }))
    const { along, origin } = of('line', motionAxes(bobs, 'oscillation', ERROR, false))
    expect(along).toBe('y')
    expect(Math.abs(origin.y - 400)).toBeLessThan(1)
    expect(origin.error).toBeLessThan(0.1 * ERROR)
  })
})

describe('what is proposed and taken', () => {
  const body = id(3)
  const document = build(edits.setFootage(footage), edits.addBody(body, { position: id(4), velocity: id(5) }))
  const after = (...mutators: Mutator[]) =>
    mutators.reduce((before, mutator) => edit(before, mutator).document, document)
  const ramp = axes(rolls(-12 * DEGREE))!
  const leaning = axes(falls(2 * DEGREE))!

  it('is proposed until axes are placed, locked or refused, and while the picture is taken as it is', () => {
    expect(openAxes(document, body, ramp)).toBe(ramp)
    expect(openAxes(document, body, leaning)).toBe(leaning)
    expect(openAxes(document, body, { kind: 'fall', tilt: 0.01, tiltError: 0.008 })).toBeNull()
    for (const mutator of [
      edits.setAxes({ tilt: 0.1 }),
      edits.refuse(id(9), { kind: 'axes', body }),
      edits.setLock('axes', { by: id(8), name: 'Ada' }),
      edits.setLensCoefficient(0.1),
      (draft) => Object.assign(draft.camera, { motion: 'turned' }),
    ] as Mutator[])
      expect(openAxes(after(mutator), body, ramp)).toBeNull()
    expect(openAxes(after(edits.refuse(id(9), { kind: 'axes', body: id(7) })), body, ramp)).toBe(ramp)
    // In a picture of a plane at an angle lines are lines, and parabolas and circles are not.
    const rectified = after(
      edits.setPlaneCorners([
        { x: 100, y: 400, error: 1, frame: 0 },
        { x: 500, y: 420, error: 1, frame: 0 },
        { x: 440, y: 200, error: 1, frame: 0 },
        { x: 160, y: 210, error: 1, frame: 0 },
      ]),
    )
    expect(openAxes(rectified, body, ramp)).toBe(ramp)
    expect(openAxes(rectified, body, leaning)).toBeNull()
  })

  it('sets origin and tilt with their errors, and the direction of falling', () => {
    const line = of('line', ramp)
    const { x, y, error } = line.origin
    expect(axesOf(after(takeAxes(ramp)))).toMatchObject({
      placed: true,
      tilt: line.tilt,
      tiltError: line.tiltError,
      origin: { x, y, error, frame: 0 },
    })
    expect(after(takeAxes(ramp)).gravity).toBeNull()
    const fall = of('fall', leaning)
    const turned = after(takeAxes(leaning))
    expect(axesOf(turned)).toMatchObject({
      tilt: fall.tilt,
      tiltError: fall.tiltError,
      origin: axesOf(document).origin,
    })
    expect(turned.gravity).toEqual({ direction: fall.tilt - Math.PI / 2, error: fall.tiltError })
    // What falls moves along −y.
    expect(Math.abs(fall.tilt - 2 * DEGREE)).toBeLessThan(4 * fall.tiltError)
  })
})
