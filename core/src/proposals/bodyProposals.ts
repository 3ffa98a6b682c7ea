import { similarityStep, zoomOf } from '../geometry/index.ts'
import { type Body, framesOf, type Investigation, refusalsOf, type Stretch } from '../investigation/index.ts'
import { diagnoseTrack, markErrorOf, markErrors } from '../motion/index.ts'
import { cameraOf } from '../scene/index.ts'
import { motionAxes, type ProposedAxes } from './motionAxes.ts'
import { motionStretches, type ProposedStretch } from './stretches.ts'

/** Least standard error of a mark by which motions are told apart, in pixels: what following slips by slowly is no change of the motion. */
const LEAST_ERROR = 0.7
/** Least standard error of a mark that axes are told with, in pixels. */
const LEAST_PLACING = 0.35
/** Most marks that stretches are told from; of more, every n-th. */
const MOST_MARKS = 400

/** What the marks of a body say: the stretches on which one law of motion holds, and axes by the longest of them. */
export interface BodyProposals {
  stretches: ProposedStretch[]
  axes: ProposedAxes | null
}

/** A body as a camera that stands still would have seen it. */
export interface SteadiedBody {
  body: Body
  /** How much larger than in its own picture a pixel can be, at least 1: so much larger are the errors of the marks. */
  enlargement: number
}

/**
 * Returns a body with its marks in the picture of one frame, as the landmarks of a moving camera tell it, without those that they don't
 * tell; the body itself if the camera stands still. Null where no landmark is marked.
 */
export function steadiedBody(investigation: Investigation, id: string): SteadiedBody | null {
  const body = investigation.bodies[id]
  if (investigation.camera.motion === 'still') return { body, enlargement: 1 }
  const path = cameraOf(investigation)
  if (!path) return null
  let enlargement = 1
  const marks: Body['marks'] = {}
  for (const frame of framesOf(body)) {
    const seen = path.toReference(frame)
    if (!seen) continue
    marks[frame] = { ...body.marks[frame], ...similarityStep(seen).forward(body.marks[frame]) }
    enlargement = Math.max(enlargement, zoomOf(seen))
  }
  return { body: { ...body, marks }, enlargement }
}

/**
 * Returns what is proposed from a body's marks, in the picture of a camera that stands still. Outliers and rests that somebody has
 * stated are left out.
 *
 * @param seconds real time of every frame (s)
 * @param outlierLimit standard errors beyond which a mark is an outlier
 */
export function bodyProposals(
  { body, enlargement }: SteadiedBody,
  seconds: ArrayLike<number>,
  outlierLimit: number,
): BodyProposals {
  const outliers = new Set(diagnoseTrack(body, seconds, outlierLimit).outliers.map(({ frame }) => frame))
  const frames = framesOf(body).filter(
    (frame) => frame < seconds.length && !outliers.has(frame) && body.marks[frame].until === undefined,
  )
  const every = Math.ceil(frames.length / MOST_MARKS)
  const points = frames
    .filter((_, i) => i % every === 0)
    .map((frame) => ({ frame, t: seconds[frame], x: body.marks[frame].x, y: body.marks[frame].y }))
  const error = enlargement * Math.max(LEAST_ERROR, markErrorOf(body))
  const isFollowed = markErrors(body).correlation > 0
  const stretches = motionStretches(points, error)
  const length = ({ from, to }: ProposedStretch) => to - from
  const longest = stretches.reduce<ProposedStretch | null>(
    (best, one) => (best && length(best) >= length(one) ? best : one),
    null,
  )
  const within = points.filter(({ frame }) => longest && frame >= longest.from && frame <= longest.to)
  return {
    stretches,
    axes:
      longest &&
      motionAxes(within, longest.law, enlargement * Math.max(LEAST_PLACING, markErrorOf(body)), isFollowed),
  }
}

/**
 * Returns those stretches of a body that are proposed as the span: none that is the span or a stretch of a graph already, and none that
 * was refused.
 */
export function openStretches(
  investigation: Investigation,
  body: string,
  found: readonly ProposedStretch[],
): ProposedStretch[] {
  const { span } = investigation
  const known = [{ from: span.first, to: span.last }, ...stretchesOn(investigation, body)]
  return found.filter(
    (one) => !known.some((other) => isSameStretch(one, other)) && !isRefusedStretch(investigation, body, one),
  )
}

/** Returns the stretches that are on graphs of a body. */
export const stretchesOn = ({ graphs, stretches }: Investigation, body: string): Stretch[] =>
  Object.values(stretches).filter(({ graph }) => graphs[graph]?.body === body)

/** Returns true if somebody has refused a stretch of a body. */
export function isRefusedStretch(
  investigation: Investigation,
  body: string,
  stretch: { from: number; to: number },
): boolean {
  return refusalsOf(investigation, 'stretch').some(
    (refusal) => refusal.body === body && isSameStretch(stretch, refusal),
  )
}

/** Share of the frames of both together that two stretches have in common if they are the same. */
const ALIKE = 0.8

/** Returns true if two stretches are about the same. */
export function isSameStretch(
  one: { from: number; to: number },
  other: { from: number; to: number },
): boolean {
  const common = Math.min(one.to, other.to) - Math.max(one.from, other.from) + 1
  return common >= ALIKE * (Math.max(one.to, other.to) - Math.min(one.from, other.from) + 1)
}
