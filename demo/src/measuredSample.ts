import {
  edit,
  edits,
  type Investigation,
  type Mutator,
  newInvestigation,
  type Plane,
} from '@apokinema/core/investigation'
import { readTruth, type SampleFolder } from './fill.ts'
import { steadyHand } from './steadyHand.ts'

/** Pixels by which what stands still is missed, at a large zoom. */
const STILL = 0.1

/** Ids of the things of a measured sample: of its reference, and of each body with its first two graphs. */
export interface SampleIds {
  reference: string
  bodies: { body: string; position: string; velocity: string }[]
}

/** New ids for the things of a sample, or of a trial of a sample series. */
export function sampleIds(sample: string, folder: SampleFolder = 'samples'): SampleIds {
  const id = () => crypto.randomUUID()
  return {
    reference: id(),
    bodies: readTruth(sample, folder).bodies.map(() => ({ body: id(), position: id(), velocity: id() })),
  }
}

/**
 * Returns the work of measuring a sample, for tests: its reference, or the corners of its plane, axes, and a mark in every
 * frame of every body, all as a careful hand sets them.
 *
 * @param tilt of the axes, in radians
 */
export function measuredSample(
  sample: string,
  ids: SampleIds,
  seed: number,
  tilt = 0,
  folder: SampleFolder = 'samples',
): Mutator[] {
  const { reference, origin, bodies, plane } = readTruth(sample, folder)
  const hand = steadyHand(seed)
  const placed = steadyHand(seed + 1, STILL)
  const [low, high] = reference.ends
  const scale: Mutator[] = plane
    ? [
        edits.setPlaneCorners(
          plane.corners.map((corner) => ({ ...placed(corner), frame: 0 })) as Plane['corners'],
        ),
        edits.changePlane({ width: plane.width, height: plane.height, sizeError: 0.001 }),
      ]
    : [
        edits.addReference(ids.reference, [
          { ...placed(low), frame: 0 },
          { ...placed(high), frame: 0 },
        ]),
        edits.changeReference(ids.reference, {
          name: reference.name,
          length: reference.length,
          lengthError: 0.001 * reference.length,
        }),
      ]
  const at = plane ? plane.corners[0] : origin
  return [
    ...scale,
    edits.setAxes({ origin: { ...at, frame: 0 }, tilt: plane ? edgeAngle(plane.corners) : tilt }),
    ...bodies.map(({ name, frames }, i): Mutator => {
      const { body, position, velocity } = ids.bodies[i]
      const add = edits.addBody(body, { position, velocity }, name)
      return (draft) => {
        add(draft)
        for (const { frame, x, y } of frames)
          draft.bodies[body].marks[frame] = { ...hand({ x, y }), by: 'hand' }
      }
    }),
  ]
}

/** Returns the way in which a plane's lower edge goes in the picture, from its first corner on: x is laid along it. */
function edgeAngle([from, to]: readonly { x: number; y: number }[]): number {
  return Math.atan2(from.y - to.y, to.x - from.x)
}

/**
 * Returns an investigation in which a sample has been measured as by `measuredSample`, with its footage as recorded and the capture
 * rate stated.
 *
 * @param tilt of the axes, in radians
 */
export function measuredDocument(sample: string, ids: SampleIds, tilt = 0): Investigation {
  const truth = readTruth(sample)
  const ticks = Math.round(15360 / truth.rate)
  const count = truth.bodies[0].frames.length
  return edit(newInvestigation(sample), (draft) => {
    edits.setFootage({
      id: 'f3000000-0000-4000-8000-000000000001',
      name: 'footage.mp4',
      size: 1,
      width: truth.width,
      height: truth.height,
      rotation: 0,
      timeBase: { numerator: 1, denominator: 15360 },
      ticks: { first: 0, runs: [[ticks, count - 1]] },
      notedCaptureRate: null,
      converted: false,
    })(draft)
    if (truth.captureRate !== truth.rate)
      edits.setCaptureRate('f3000000-0000-4000-8000-000000000002', {
        from: null,
        to: null,
        rate: truth.captureRate,
        known: null,
      })(draft)
    for (const mutator of measuredSample(sample, ids, 11, tilt)) mutator(draft)
  }).document
}
