import { edits, type Plane, type Recipe } from '@apokinema/core/investigation'
import { readTruth } from './fill.ts'
import { steadyHand } from './steadyHand.ts'

/** Pixels by which what stands still is missed, at a large zoom. */
const STILL = 0.1

/** Ids of the things of a measured sample: of its reference, and of each body with its first two graphs. */
export interface SampleIds {
  reference: string
  bodies: { body: string; position: string; velocity: string }[]
}

/** New ids for a sample's things. */
export function sampleIds(sample: string): SampleIds {
  const id = () => crypto.randomUUID()
  return {
    reference: id(),
    bodies: readTruth(sample).bodies.map(() => ({ body: id(), position: id(), velocity: id() })),
  }
}

/**
 * Returns the work of measuring a sample, for tests: its reference, or the corners of its plane, axes, and a mark in every
 * frame of every body, all as a careful hand sets them.
 *
 * @param tilt of the axes, in radians
 */
export function measuredSample(sample: string, ids: SampleIds, seed: number, tilt = 0): Recipe[] {
  const { reference, origin, bodies, plane } = readTruth(sample)
  const hand = steadyHand(seed)
  const placed = steadyHand(seed + 1, STILL)
  const [low, high] = reference.ends
  const scale: Recipe[] = plane
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
    ...bodies.map(({ name, frames }, i): Recipe => {
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
