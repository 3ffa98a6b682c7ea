import { Predictor } from '../following/index.ts'
import type { Point } from '../geometry/index.ts'
import { framesInUse, framesOf, type Investigation } from '../investigation/index.ts'
import type { InvestigationScene } from '../scene/index.ts'
import { clockOf, placeIn } from '../scene/index.ts'

/** Marks that tell where the next one is expected. */
const BACK = 6

/** Last mark of a body before a frame, and its predicted position in that frame, both in that frame's picture. */
export interface ExpectedPlace {
  last: Point
  /** Null where there is but one mark to tell. */
  expected: Point | null
}

/**
 * Returns where a body is expected in a frame, predicted from its marks since the last break or rest. Null without
 * marks, or if the landmarks don't determine the camera.
 */
export function expectedPlace(
  investigation: Investigation,
  scene: InvestigationScene,
  bodyId: string,
  frame: number,
): ExpectedPlace | null {
  const clock = clockOf(investigation)
  const body = investigation.bodies[bodyId]
  if (!clock || !body) return null
  const used = framesInUse(investigation)
  const before = framesOf(body).filter((at) => at < frame && used.has(at))
  const from = before.findLastIndex((at) => body.breaks[at] === 'break' || body.marks[at].until !== undefined)
  const places = before.slice(Math.max(0, from)).flatMap((at) => {
    const place = placeIn(scene, { x: body.marks[at].x, y: body.marks[at].y, frame: at }, frame)
    return place ? [{ ...place, time: clock.seconds[body.marks[at].until ?? at] }] : []
  })
  const last = places.at(-1)
  if (!last) return null
  const predictor = new Predictor()
  for (const { time, ...place } of places.slice(-BACK)) predictor.add(time, place)
  const { x, y } = predictor.at(clock.seconds[frame])
  return { last: { x: last.x, y: last.y }, expected: places.length > 1 ? { x, y } : null }
}
