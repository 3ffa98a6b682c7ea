import { type Body, type ById, type Footage, type Investigation, inOrder } from '../investigation/index.ts'
import { clockOf } from '../scene/index.ts'
import { type FrameTimes, median, unevenFrames } from '../time/index.ts'
import { markErrorOf, speedPerFrame } from './markError.ts'

/** Kept by the bodies, which every edit of a mark replaces; with them the footage that was judged. */
const known = new WeakMap<object, { footage: Footage; flags: number[] }>()

/**
 * Returns the frames whose time would be wrong by too much if frames were taken for even: by so much that a body is
 * off by more than its mark error. Where no body is marked, by more than the typical spread of intervals.
 * The file's own times are judged, not what was decided about them.
 */
export function flaggedFrames(investigation: Investigation): number[] {
  const { footage, bodies } = investigation
  if (!footage) return []
  const kept = known.get(bodies)
  if (kept?.footage === footage) return kept.flags
  const flags = judged(bodies, clockOf(investigation)!.playback)
  known.set(bodies, { footage, flags })
  return flags
}

function judged(bodies: ById<Body>, { seconds, rounding }: FrameTimes): number[] {
  const typical = median(Float64Array.from(seconds.subarray(1), (time, i) => time - seconds[i]))
  const judges = inOrder(bodies).map(([, body]) => ({
    speed: speedPerFrame(body),
    error: markErrorOf(body),
  }))
  return unevenFrames(seconds, rounding, (frame) => {
    const tolerated = judges.flatMap(({ speed, error }) => {
      const moved = speed(frame)
      return moved === null ? [] : [moved > 0 ? (typical * error) / moved : Number.POSITIVE_INFINITY]
    })
    return tolerated.length > 0 ? Math.min(...tolerated) : null
  })
}
