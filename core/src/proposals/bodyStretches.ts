import { type Body, framesOf, type Investigation, type Refusal } from '../investigation/index.ts'
import { diagnoseTrack, markErrorOf } from '../motion/index.ts'
import { motionStretches, type ProposedStretch } from './stretches.ts'

/** Least standard error of a mark that is assumed, in pixels: what following slips by slowly is no change of the motion. */
const LEAST_ERROR = 0.35
/** Most marks that stretches are told from; of more, every n-th. */
const MOST_MARKS = 400

/**
 * Returns the stretches of a body's marks on which one law of motion holds, in the picture of a camera that stands still. Outliers
 * and rests that somebody has stated are left out.
 *
 * @param seconds real time of every frame (s)
 * @param outlierLimit standard errors beyond which a mark is an outlier
 */
export function bodyStretches(
  body: Body,
  seconds: ArrayLike<number>,
  outlierLimit: number,
): ProposedStretch[] {
  const outliers = new Set(diagnoseTrack(body, seconds, outlierLimit).outliers.map(({ frame }) => frame))
  const frames = framesOf(body).filter(
    (frame) => frame < seconds.length && !outliers.has(frame) && body.marks[frame].until === undefined,
  )
  const every = Math.ceil(frames.length / MOST_MARKS)
  const points = frames
    .filter((_, i) => i % every === 0)
    .map((frame) => ({ frame, t: seconds[frame], x: body.marks[frame].x, y: body.marks[frame].y }))
  return motionStretches(points, Math.max(LEAST_ERROR, markErrorOf(body)))
}

/**
 * Returns those stretches of a body that are proposed: none where the camera moves, none that is the span or a stretch of a graph
 * already, and none that was refused.
 */
export function openStretches(
  { span, camera, graphs, stretches, refusals }: Investigation,
  body: string,
  found: readonly ProposedStretch[],
): ProposedStretch[] {
  if (camera.motion !== 'still') return []
  const taken = Object.values(stretches).filter(({ graph }) => graphs[graph]?.body === body)
  const refused = Object.values(refusals).filter(
    (refusal): refusal is Refusal & { kind: 'stretch' } =>
      refusal.kind === 'stretch' && refusal.body === body,
  )
  const known = [{ from: span.first, to: span.last }, ...taken, ...refused]
  return found.filter((one) => !known.some((other) => isAlike(one, other)))
}

/** Share of the frames of both together that two stretches have in common if they are the same. */
const ALIKE = 0.8

function isAlike(one: { from: number; to: number }, other: { from: number; to: number }): boolean {
  const common = Math.min(one.to, other.to) - Math.max(one.from, other.from) + 1
  return common >= ALIKE * (Math.max(one.to, other.to) - Math.min(one.from, other.from) + 1)
}
