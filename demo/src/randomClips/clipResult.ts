import { EncodedClip } from './encodedClip.ts'
import { type FollowedFrame, followedClip } from './followedClip.ts'
import { clipReadings, type MeasuredReading } from './measuredClip.ts'
import type { RandomClip } from './randomClip.ts'

/** A mark farther than this from the truth is wrong, in pixels. */
const FAR = 3
/** Share of a body that must be seen for it to count as visible. */
const VISIBLE = 0.5

/** What following and fitting made of a clip. */
export interface ClipResult {
  clip: RandomClip
  frames: FollowedFrame[]
  readings: MeasuredReading[]
  /** Frames in which the body is visible, and those of them in which it was marked. */
  visible: number
  marked: number
  /** Standard deviation of the marks from the truth along each direction, without their mean, in pixels. */
  scatter: number
  /** Marks that are wrong, of all. */
  far: number
  marks: number
  /** Longest run of wrong marks that no question followed at once. */
  unaskedRun: number
  questions: number
}

/** Films, encodes, follows and measures a clip. */
export async function clipResult(clip: RandomClip): Promise<ClipResult> {
  using encoded = await EncodedClip.of(clip)
  return resultOf(clip, await followedClip(clip, encoded))
}

/** Sums up what following made of a clip. */
function resultOf(clip: RandomClip, frames: FollowedFrame[]): ClipResult {
  const visible = frames.filter(({ seen }) => seen >= VISIBLE)
  const off = frames.flatMap(({ at, truth }) => (at ? [{ x: at.x - truth.x, y: at.y - truth.y }] : []))
  const mean = (axis: 'x' | 'y') => off.reduce((sum, one) => sum + one[axis], 0) / off.length
  const [x, y] = [mean('x'), mean('y')]
  // The clicked point may lie beside the middle, but stays where it is on the body.
  const isFar = ({ at, truth }: FollowedFrame) =>
    at !== null && Math.hypot(at.x - truth.x, at.y - truth.y) > FAR
  let [run, unaskedRun] = [0, 0]
  for (const frame of frames) {
    run = isFar(frame) ? run + 1 : 0
    unaskedRun = Math.max(unaskedRun, run)
  }
  return {
    clip,
    frames,
    readings: clipReadings(clip, frames),
    visible: visible.length,
    marked: visible.filter(({ at }) => at).length,
    scatter: Math.sqrt(
      off.reduce((sum, one) => sum + (one.x - x) ** 2 + (one.y - y) ** 2, 0) / (2 * off.length),
    ),
    far: frames.filter(isFar).length,
    marks: off.length,
    unaskedRun,
    questions: frames.filter(({ isAsked }) => isAsked).length,
  }
}

/** Returns a line of a table for people who look at all clips. */
export function resultLine({ clip, ...result }: ClipResult): string {
  const { motion, radius, rate, shutter, wall, extra, encoder } = clip.choices
  const codec = encoder.codec === 'mjpeg' ? `mjpeg ${encoder.quality}` : `crf ${encoder.crf}`
  const readings = result.readings.map(({ key, value, truth, error, half }) => {
    const miss = Math.abs(value - truth) > half ? '!' : ''
    return `${key} ${((value - truth) / error).toFixed(1)}σ (${((100 * error) / Math.abs(truth)).toFixed(1)} %)${miss}`
  })
  return [
    `${clip.seed}`.padStart(5),
    `${motion} ${clip.look.shape} ${clip.look.pattern}`.padEnd(20),
    `r ${radius.toFixed(0)} px, ${rate}/s, shutter ${shutter.toFixed(2)}`.padEnd(30),
    `${wall}, ${extra}, ${codec}`.padEnd(36),
    `${result.marked}/${result.visible}`.padStart(9),
    `asked ${result.questions}, scatter ${result.scatter.toFixed(2)} px, far ${result.far} (run ${result.unaskedRun})`.padEnd(
      44,
    ),
    readings.join(', '),
  ].join('  ')
}
