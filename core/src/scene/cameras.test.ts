import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { directionInPicture, fitLens, type Point } from '../geometry/index.ts'
import { edit, edits, type Investigation, type Mutator, newInvestigation } from '../investigation/index.ts'

/**
 * Scenes as known cameras show them, each calibrated the way a person would, with every point placed to the
 * quarter pixel that keys move it by. What is recovered is held against the scene itself.
 */

const PICTURE = { width: 1280, height: 720 }
const FRAMES = 60
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`
/** Extent of the scene in metres, its middle at (0, 0). */
const EXTENT = { width: 4, height: 2.2 }

/** Where a camera shows a point of the scene's plane in a frame. */
type Shows = (point: Point, frame: number) => Point

const level: Shows = ({ x, y }) => ({ x: 640 + 280 * x, y: 360 - 280 * y })

/** A camera that pans, zooms and rolls by so much until the last frame. */
const moving =
  (pan: Point, zoomAtEnd: number, roll: number): Shows =>
  (point, frame) => {
    const share = frame / (FRAMES - 1)
    const { x, y } = level(point, 0)
    const [zoom, turn] = [1 + (zoomAtEnd - 1) * share, roll * share]
    const [dx, dy] = [x - 640, y - 360]
    return {
      x: 640 + share * pan.x + zoom * (dx * Math.cos(turn) - dy * Math.sin(turn)),
      y: 360 + share * pan.y + zoom * (dx * Math.sin(turn) + dy * Math.cos(turn)),
    }
  }

/** A pinhole that looks at the plane from so far aside. */
const oblique =
  (turn: number): Shows =>
  ({ x, y }) => {
    const away = 5 + x * Math.sin(turn)
    return { x: 640 + (1300 * x * Math.cos(turn)) / away, y: 360 - (1300 * y) / away }
  }

const bulging =
  (k1: number, shows: Shows): Shows =>
  (point, frame) => {
    const { x, y } = shows(point, frame)
    const [dx, dy] = [x - 640, y - 360]
    const by = 1 + (k1 * (dx * dx + dy * dy)) / (640 ** 2 + 360 ** 2)
    return { x: 640 + dx * by, y: 360 + dy * by }
  }

const placed = (shows: Shows, x: number, y: number, frame = 0) => {
  const at = shows({ x, y }, frame)
  return { x: Math.round(4 * at.x) / 4, y: Math.round(4 * at.y) / 4, frame }
}

function calibrated(...mutators: Mutator[]): Investigation {
  const footage: Mutator = edits.setFootage({
    id: id(1),
    name: 'quay.mp4',
    size: 1,
    ...PICTURE,
    timeBase: { numerator: 1, denominator: 30 },
    ticks: { first: 0, runs: [[1, FRAMES - 1]] },
    rotation: 0,
    notedCaptureRate: null,
    converted: false,
  })
  return [footage, ...mutators].reduce(
    (document, mutator) => edit(document, mutator).document,
    newInvestigation('Known cameras'),
  )
}

/** Returns a ruler across the scene and axes along it, both placed in one frame. */
const ruler = (shows: Shows, nearer = 1): Mutator[] => [
  edits.addReference(id(2), [placed(shows, -1.5 / nearer, -0.8), placed(shows, 1.5 / nearer, -0.8)]),
  edits.changeReference(id(2), { length: 3 }),
  axes(shows),
]

const axes = (shows: Shows) => {
  const [origin, along] = [placed(shows, 0, 0), placed(shows, 1.9, 0)]
  return edits.setAxes({ origin, tilt: directionInPicture(origin, along) })
}

const landmarks = (shows: Shows): Mutator[] =>
  [
    [-1.4, 0.6],
    [1.5, 0.5],
  ].flatMap(([x, y], i) => {
    const mutators: Mutator[] = [edits.addLandmark(id(10 + i), 0, placed(shows, x, y))]
    for (let frame = 5; frame < FRAMES; frame += 6)
      mutators.push(edits.markLandmark(id(10 + i), frame, placed(shows, x, y, frame)))
    return mutators
  })

/** Farthest that a recovered position is from the scene's own, as a share of the scene's extent. */
function farthest(document: Investigation, shows: Shows): number {
  const scene = analyse(document).scene()
  let most = 0
  for (let frame = 0; frame < FRAMES; frame += 7)
    for (const u of [-0.5, -0.2, 0.1, 0.5])
      for (const v of [-0.5, 0, 0.5]) {
        const point = { x: u * EXTENT.width, y: v * EXTENT.height }
        const at = scene.at(frame)!.toScene(shows(point, frame))
        most = Math.max(most, Math.hypot(at.x - point.x, at.y - point.y))
      }
  return most / Math.hypot(EXTENT.width, EXTENT.height)
}

describe('a scene is recovered within 0.3 % of its extent', () => {
  it.each([
    ['stands still', moving({ x: 0, y: 0 }, 1, 0), 'turned'],
    ['pans', moving({ x: 180, y: -60 }, 1, 0), 'turned'],
    ['zooms from 1 to 0.55', moving({ x: 0, y: 0 }, 0.55, 0), 'zoomed'],
    ['rolls by 2°', moving({ x: 0, y: 0 }, 1, Math.PI / 90), 'tilted'],
    ['does all of it at once', moving({ x: 180, y: -60 }, 0.55, Math.PI / 90), 'tilted'],
  ] as const)('from a camera that %s', (_, shows, motion) => {
    const document = calibrated(edits.setCameraMotion(motion), ...landmarks(shows), ...ruler(shows))
    expect(farthest(document, shows)).toBeLessThan(0.003)
  })

  it('from 25° aside', () => {
    const shows = oblique((25 * Math.PI) / 180)
    const corners = [
      placed(shows, -1.8, -0.9),
      placed(shows, 1.8, -0.9),
      placed(shows, 1.8, 0.9),
      placed(shows, -1.8, 0.9),
    ] as const
    const document = calibrated(
      edits.setPlaneCorners([...corners]),
      edits.changePlane({ width: 3.6, height: 1.8 }),
      axes(shows),
    )
    expect(farthest(document, shows)).toBeLessThan(0.003)
    expect(farthest(calibrated(...ruler(shows)), shows)).toBeGreaterThan(0.03)
  })

  it('through a lens that bulges like a barrel, k₁ = −0.08, found from two straight edges', () => {
    const shows = bulging(-0.08, level)
    const edge = (y: number) =>
      [-2, -1.4, -0.7, 0, 0.7, 1.4, 2].map((x) => {
        const { x: px, y: py } = placed(shows, x, y)
        return { x: px, y: py }
      })
    const document = calibrated(
      edits.addEdge(id(20), edge(1)),
      edits.addEdge(id(21), edge(-1.05)),
      ...ruler(shows),
    )
    const found = fitLens([edge(1), edge(-1.05)], PICTURE)!
    expect(Math.abs(found.k1 + 0.08)).toBeLessThan(3 * found.error)
    expect(farthest(document, shows)).toBeLessThan(0.003)
    expect(farthest(calibrated(...ruler(shows)), shows)).toBeGreaterThan(0.005)
  })

  it('with a ruler that is 10 % nearer, once the distances are told', () => {
    const near = calibrated(...ruler(level, 0.9))
    expect(farthest(near, level)).toBeGreaterThan(0.04)
    const depth = { reference: [2.7, 2.7] as [number, number], motion: [3, 3] as [number, number] }
    const { document } = edit(near, edits.changeReference(id(2), { depth }))
    expect(farthest(document, level)).toBeLessThan(0.003)
  })
})
