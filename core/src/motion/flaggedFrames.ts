import { type Investigation, inOrder } from '../investigation/index.ts'
import { median, unevenFrames } from '../time/index.ts'
import { clockOf } from './clockOf.ts'
import { markErrorOf, speedPerFrame } from './markError.ts'

/**
 * Frames whose time would be wrong by too much if frames were taken for even: by so much that a body is
 * off by more than its mark error. Where no body is marked, by more than the usual spread of intervals.
 * The file's own times are judged, not what was decided about them.
 */
export function flaggedFrames(investigation: Investigation): number[] {
  const { footage, bodies } = investigation
  const clock = clockOf(investigation)
  if (!footage || !clock) return []
  const { seconds, dequantised } = clock.playback
  const usual = median(Float64Array.from(seconds.subarray(1), (time, i) => time - seconds[i]))
  const judges = inOrder(bodies).map(([, body]) => ({
    speed: speedPerFrame(body),
    error: markErrorOf(body),
  }))
  const tick = dequantised ? 0 : footage.timeBase.numerator / footage.timeBase.denominator
  return unevenFrames(seconds, tick, (frame) => {
    const tolerated = judges.flatMap(({ speed, error }) => {
      const moved = speed(frame)
      return moved === null ? [] : [moved > 0 ? (usual * error) / moved : Number.POSITIVE_INFINITY]
    })
    return tolerated.length > 0 ? Math.min(...tolerated) : null
  })
}
