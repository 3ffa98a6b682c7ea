import { describe, expect, it } from 'vitest'
import { type Background, pyramid } from '../following/index.ts'
import { distance, type Point, type Step } from '../geometry/index.ts'
import { randomSource } from '../random/index.ts'
import { itAtLength } from '../testing/extent.ts'
import {
  backgroundSeen,
  STILL,
  sceneWithStick,
  stillScene,
  tiledScene,
  turned,
  VIEW,
  type View,
} from '../testing/stillViews.ts'
import { type Registration, registerViews, viewError, viewStep } from './index.ts'

const DEGREE = Math.PI / 180
const EDGES: Point[] = [0, VIEW.width].flatMap((x) => [0, VIEW.height].map((y) => ({ x, y })))
/** Points over the middle of the picture. */
const INSIDE: Point[] = [0.2, 0.5, 0.8].flatMap((x) =>
  [0.2, 0.5, 0.8].map((y) => ({ x: x * VIEW.width, y: y * VIEW.height })),
)

const scene = stillScene(3)
const before = backgroundSeen(scene, STILL)
/** Returns the registration of the scene as it is seen later. */
const registered = (later: Partial<View>, anchors: readonly Point[] = []) =>
  registerViews(before, backgroundSeen(scene, { ...STILL, seed: 2, ...later }), anchors)

/** Returns how far a motion that was found takes points from where they are, at most. */
function farthestOff(found: Registration, truth: Step, points: readonly Point[]): number {
  if (found.kind === 'other') throw new Error(found.trouble)
  const { forward } = viewStep(found.motion)
  return Math.max(...points.map((point) => distance(forward(point), truth.forward(point))))
}

/** Returns how a motion that was found turns, in radians. */
function turnFound(found: Registration): number {
  if (found.kind === 'other') throw new Error(found.trouble)
  const [a, b] = found.motion.parameters
  return Math.atan2(b, a)
}

describe('two clips of one place', () => {
  it('tells a camera that stood still', () => {
    const found = registered({ gain: 1.2, offset: -15 })
    expect(found.kind).toBe('same')
    expect(farthestOff(found, turned({}), EDGES)).toBeLessThan(0.15)
  })

  it('finds how a camera was bumped within 0.1 px and 0.02°, in other light', () => {
    const step = turned({ pan: { x: 5, y: -2 }, roll: 0.3 * DEGREE, zoom: 1.004 })
    const found = registered({ toScene: step.backward, gain: 0.8, offset: 12, slope: 25 })
    expect(found.kind).toBe('moved')
    expect(farthestOff(found, step, INSIDE)).toBeLessThan(0.1)
    expect(Math.abs(turnFound(found) - 0.3 * DEGREE)).toBeLessThan(0.02 * DEGREE)
  })

  it('does not mind what was put before it', () => {
    const step = turned({ pan: { x: -8, y: 3 }, roll: -0.5 * DEGREE })
    const covers = [{ x: 200, y: 120, width: 150, height: 200, grey: 30 }]
    const found = registered({ toScene: step.backward, covers })
    expect(farthestOff(found, step, INSIDE)).toBeLessThan(0.15)
  })

  it('does not mind single pixels that are not known, as of film grain', () => {
    const random = randomSource(4)
    const step = turned({ pan: { x: 4, y: 6 } })
    const later = backgroundSeen(scene, { ...STILL, toScene: step.backward, seed: 2 })
    const grained = [before, later].map((background): Background => {
      const [{ data, ...rest }] = background.known
      const known = { ...rest, data: data.map((one) => (random() < 0.03 ? 0 : one)) }
      return { ...background, known: pyramid(known, background.known.length) }
    })
    const found = registerViews(grained[0], grained[1])
    expect(farthestOff(found, step, INSIDE)).toBeLessThan(0.1)
  })

  it('refuses a camera that changed its place', () => {
    expect(registered({ parallax: { x: 4, y: 1 } })).toEqual({ kind: 'other', trouble: 'parts' })
  })

  it('refuses another place', () => {
    const elsewhere = backgroundSeen(stillScene(4), STILL)
    expect(registerViews(before, elsewhere)).toEqual({ kind: 'other', trouble: 'notFound' })
  })

  it('refuses pictures of different sizes', () => {
    const { value, known } = before
    const half = { ...before, value: value.slice(1), known: known.slice(1) }
    expect(registerViews(before, half)).toEqual({ kind: 'other', trouble: 'size' })
  })

  it('refuses a wall that looks the same some tiles farther', () => {
    const wall = tiledScene()
    const step = turned({ pan: { x: 6, y: 0 } })
    const later = backgroundSeen(wall, { ...STILL, toScene: step.backward, seed: 2 })
    expect(registerViews(backgroundSeen(wall, STILL), later)).toEqual({ kind: 'other', trouble: 'ambiguous' })
  })

  it('refuses an even wall', () => {
    const wall = stillScene(5, 0)
    const later = backgroundSeen(wall, { ...STILL, seed: 2 })
    expect(registerViews(backgroundSeen(wall, STILL), later)).toEqual({ kind: 'other', trouble: 'notFound' })
  })

  it.each([3, 20, 40])('refuses a reference that was moved by %i px, though all else stayed', (by) => {
    const { scene: quay, ends } = sceneWithStick(6)
    const first = backgroundSeen(quay, STILL)
    const later = backgroundSeen(quay, { ...STILL, parallax: { x: by, y: 0 }, seed: 2 })
    expect(registerViews(first, later).kind).toBe('same')
    expect(registerViews(first, later, ends)).toEqual({ kind: 'other', trouble: 'anchorMoved' })
  })

  // Of two hundred random pairs, in parts: one part takes more than a minute.
  for (let first = 2000; first < 2200; first += 40)
    itAtLength(`is never wrong without saying so, with seeds from ${first} on`, () => {
      const counts = { possible: 0, accepted: 0 }
      let [squares, points] = [0, 0]
      for (let seed = first; seed < first + 40; seed++) {
        const { kind, step, parallax, found } = randomPair(seed)
        const isPossible = kind === 'still' || kind === 'bumped'
        if (isPossible) counts.possible++
        if (found.kind === 'other') continue
        expect(kind, `seed ${seed}`).not.toBe('elsewhere')
        if (kind === 'still') expect(found.kind, `seed ${seed}`).toBe('same')
        if (!isPossible) {
          // Less than a pixel between near and far is not seen.
          expect(Math.hypot(parallax.x, parallax.y), `seed ${seed}`).toBeLessThan(1)
          continue
        }
        counts.accepted++
        expect(farthestOff(found, step, INSIDE), `seed ${seed}`).toBeLessThan(0.3)
        const { forward } = viewStep(found.motion)
        for (const edge of EDGES) {
          squares += (distance(forward(edge), step.forward(edge)) / viewError(found.motion, edge)) ** 2 / 2
          points++
        }
      }
      expect(counts.accepted).toBeGreaterThanOrEqual(0.9 * counts.possible)
      expect(Math.sqrt(squares / points)).toBeLessThan(1.5)
    })
})

const KINDS = ['still', 'bumped', 'carried', 'elsewhere'] as const

/** Returns two views at random: of a camera that stood still, was bumped, was carried to another place, or looks elsewhere. */
function randomPair(seed: number) {
  const random = randomSource(seed)
  const between = (least: number, most: number) => least + (most - least) * random()
  const kind = KINDS[seed % KINDS.length]
  const place = stillScene(seed, Math.round(between(20, 90)))
  const bump = {
    pan: { x: between(-20, 20), y: between(-12, 12) },
    roll: between(-1.7, 1.7) * DEGREE,
    zoom: between(0.97, 1.03),
    focal: between(420, 900),
  }
  const step = kind === 'still' ? turned({}) : turned(bump)
  const parallax = kind === 'carried' ? { x: between(-8, 8), y: between(-4, 4) } : STILL.parallax
  const noise = between(0.5, 5)
  const light = { gain: between(0.7, 1.3), offset: between(-20, 20), slope: between(-30, 30), noise }
  const first = backgroundSeen(place, { ...STILL, noise, seed })
  const later = backgroundSeen(kind === 'elsewhere' ? stillScene(seed + 1000) : place, {
    ...STILL,
    ...light,
    parallax,
    toScene: step.backward,
    seed: seed + 1000,
  })
  return { kind, step, parallax, found: registerViews(first, later) }
}
