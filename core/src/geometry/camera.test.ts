import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import {
  cameraPath,
  distance,
  landmarkAt,
  landmarkInfluences,
  type MarkedLandmark,
  type Point,
  type Similarity,
  similarityStep,
  turnOf,
  zoomOf,
} from './index.ts'

const FRAMES = 91
const seconds = Float64Array.from({ length: FRAMES }, (_, frame) => frame / 30)

/** Returns a camera that zooms from 1 to 0.55, pans and rolls by 2°, all at once: takes the scene (in pixels of frame 0) to a frame's picture. */
function filmed(frame: number): Similarity {
  const share = frame / (FRAMES - 1)
  const zoom = 1 - 0.45 * share
  const roll = (2 * share * Math.PI) / 180
  return { a: zoom * Math.cos(roll), b: zoom * Math.sin(roll), x: 120 * share, y: -60 * share }
}

/** Returns a landmark that is marked in some frames where the camera truly shows it. */
function landmark(id: string, at: Point, frames: number[], gone: number | null = null): MarkedLandmark {
  const marks = Object.fromEntries(frames.map((frame) => [frame, similarityStep(filmed(frame)).forward(at)]))
  return { id, marks, gone }
}

const every = (n: number, from = 0, to = FRAMES - 1) =>
  Array.from({ length: Math.floor((to - from) / n) + 1 }, (_, i) => from + i * n)

const SOMEWHERE = { x: 333, y: 512 }

/** Returns how far a point of the scene is from where it should be, once the camera's motion is undone. */
function misplaced(path: NonNullable<ReturnType<typeof cameraPath>>, frame: number): number {
  const seen = similarityStep(filmed(frame)).forward(SOMEWHERE)
  return distance(similarityStep(path.toReference(frame)!).forward(seen), SOMEWHERE)
}

describe('a landmark', () => {
  const marked: MarkedLandmark = { id: 'a', marks: { 10: { x: 0, y: 0 }, 20: { x: 10, y: -20 } }, gone: 40 }

  it('is where it was marked, between marks on the way, afterwards where it was', () => {
    expect(landmarkAt(marked, 10, seconds)).toMatchObject({ x: 0, y: 0, how: 'marked' })
    expect(landmarkAt(marked, 15, seconds)).toMatchObject({ how: 'between' })
    expect(landmarkAt(marked, 15, seconds)!.x).toBeCloseTo(5, 12)
    expect(landmarkAt(marked, 39, seconds)).toMatchObject({ x: 10, y: -20, how: 'held' })
  })

  it('is nowhere before its first mark and once it is gone', () => {
    expect(landmarkAt(marked, 9, seconds)).toBeNull()
    expect(landmarkAt(marked, 40, seconds)).toBeNull()
    expect(landmarkAt({ id: 'b', marks: {}, gone: null }, 0, seconds)).toBeNull()
  })
})

describe('a moving camera', () => {
  const mast = { x: 300, y: 120 }
  const roof = { x: 980, y: 300 }

  it('that pans, zooms and rolls at once is undone by two landmarks', () => {
    const path = cameraPath(
      [landmark('a', mast, every(1)), landmark('b', roof, every(1))],
      'tilted',
      seconds,
    )!
    for (const frame of [0, 17, 60, 90]) expect(misplaced(path, frame)).toBeLessThan(1e-9)
    expect(zoomOf(path.toReference(90)!)).toBeCloseTo(1 / 0.55, 9)
    expect(turnOf(path.toReference(90)!)).toBeCloseTo((-2 * Math.PI) / 180, 9)
    expect(path.seams).toEqual([])
    expect(path.misfit).toBe(0)
  })

  it('is undone within 0.3 % of the picture where landmarks are marked in every fifteenth frame only', () => {
    const path = cameraPath(
      [landmark('a', mast, every(15)), landmark('b', roof, every(15))],
      'tilted',
      seconds,
    )!
    for (const frame of every(1)) expect(misplaced(path, frame)).toBeLessThan(0.003 * 1280)
  })

  it('is handed over to another landmark before one leaves, and says the change of scale at the seam', () => {
    const landmarks = [
      landmark('a', mast, every(1, 0, 50), 51),
      landmark('b', roof, every(1)),
      landmark('c', { x: 500, y: 650 }, every(1, 45)),
    ]
    const path = cameraPath(landmarks, 'tilted', seconds)!
    for (const frame of [30, 50, 51, 90]) expect(misplaced(path, frame)).toBeLessThan(1e-9)
    expect(path.seams).toHaveLength(1)
    expect(path.seams[0].frame).toBe(51)
    expect(Math.abs(path.seams[0].change)).toBeLessThan(1e-4)
  })

  it('shows a slip at the seam: a landmark that was marked wrong there', () => {
    const late = landmark('c', { x: 500, y: 650 }, every(1, 45))
    // Marked 8 px off in the frames of the overlap, then right.
    for (let frame = 45; frame <= 50; frame++)
      late.marks[frame] = { x: late.marks[frame].x + 8, y: late.marks[frame].y }
    const path = cameraPath(
      [landmark('a', mast, every(1, 0, 50), 51), landmark('b', roof, every(1)), late],
      'tilted',
      seconds,
    )!
    expect(Math.abs(path.seams[0].change)).toBeGreaterThan(0.005)
  })

  it('tells nothing where no landmark is seen, or none is tied to the others', () => {
    expect(cameraPath([], 'turned', seconds)).toBeNull()
    const path = cameraPath([landmark('a', mast, [0], 20), landmark('c', roof, [30])], 'turned', seconds)!
    expect(path.toReference(10)).not.toBeNull()
    expect(path.toReference(25)).toBeNull()
    expect(path.toReference(40)).toBeNull()
  })

  it('with two landmarks on one spot tells nothing of zoom', () => {
    const path = cameraPath(
      [landmark('a', mast, every(1)), landmark('b', mast, every(1))],
      'zoomed',
      seconds,
    )!
    expect(path.toReference(40)).toBeNull()
  })

  it('by more landmarks than are needed is undone by least squares', () => {
    const four = [mast, roof, { x: 640, y: 650 }, { x: 200, y: 600 }].map((at, i) =>
      landmark(`${i}`, at, every(1)),
    )
    four[3].marks[60] = { x: four[3].marks[60].x + 4, y: four[3].marks[60].y }
    const path = cameraPath(four, 'tilted', seconds)!
    expect(misplaced(path, 60)).toBeGreaterThan(0.1)
    expect(misplaced(path, 60)).toBeLessThan(4)
    expect(path.misfit).toBeGreaterThan(0)
  })

  it('shows by how much its landmarks contradict each other, and whether they could', () => {
    const normal = normalSource(randomSource(9))
    const noisy = (id: string, at: Point, slip = 0) => {
      const made = landmark(id, at, every(1))
      for (const [frame, mark] of Object.entries(made.marks)) {
        mark.x += 0.1 * normal() + (slip * Number(frame)) / (FRAMES - 1)
        mark.y += 0.1 * normal()
      }
      return made
    }
    const two = [noisy('a', mast), noisy('b', roof, 3)]
    expect(cameraPath(two, 'tilted', seconds)).toMatchObject({ misfit: 0, redundancy: 0 })
    const third = noisy('c', { x: 500, y: 650 })
    const slipped = cameraPath([...two, third], 'tilted', seconds)!
    expect(slipped.redundancy).toBe(1)
    expect(slipped.misfit).toBeGreaterThan(3 * slipped.expectedMisfit)
    const sound = cameraPath([noisy('a', mast), noisy('b', roof), third], 'tilted', seconds)!
    // The places in the base picture are missed as well, once for all frames.
    expect(sound.misfit / sound.expectedMisfit).toBeGreaterThan(0.5)
    expect(sound.misfit / sound.expectedMisfit).toBeLessThan(2)
  })
})

describe('what can be wrong with a landmark', () => {
  it('that was followed is each mark’s own, as rough as they are, and a slip that grows along its range', () => {
    const normal = normalSource(randomSource(4))
    const followed = landmark('a', SOMEWHERE, every(1))
    for (const mark of Object.values(followed.marks)) {
      mark.x += 0.2 * normal()
      mark.y += 0.2 * normal()
    }
    const influences = landmarkInfluences(followed, seconds)
    const own = influences.filter(({ weights }) => weights.length === 1)
    expect(own).toHaveLength(2 * FRAMES)
    for (const { error } of own) expect(Math.abs(error - 0.2)).toBeLessThan(0.05)
    const slips = influences.filter(({ weights }) => weights.length > 1)
    expect(slips.map(({ axis, from }) => [axis, from])).toEqual([
      ['x', 1],
      ['y', 1],
    ])
    expect(slips[0].weights[89]).toBe(1)
    expect(slips[0].weights[44]).toBeCloseTo(0.5, 12)
  })

  it('marked now and then reaches between the marks, and grows with the curvature that they show', () => {
    const bowed: MarkedLandmark = {
      id: 'a',
      gone: null,
      // x = 90 t², so its second derivative is 180 px/s².
      marks: Object.fromEntries([0, 30, 60].map((frame) => [frame, { x: 90 * (frame / 30) ** 2, y: 0 }])),
    }
    const influences = landmarkInfluences(bowed, seconds)
    const middle = influences.find(({ error, from }) => error === 0.5 && from === 1)!
    expect(middle.weights[29]).toBe(1)
    expect(middle.weights[14]).toBeCloseTo(0.5, 12)
    const bows = influences.filter(({ error }) => error !== 0.5)
    expect(bows.map(({ axis }) => axis)).toEqual(['x', 'x'])
    // h²/8 of 180 px/s² over one second: just what a straight line misses in the middle.
    expect(bows[0].error).toBeCloseTo(22.5, 9)
    expect(Math.max(...bows[0].weights)).toBeCloseTo(1, 12)
    // The last mark is held to the end.
    expect(influences.find(({ from, weights }) => from === 31 && weights.length === 60)).toBeDefined()
  })
})
