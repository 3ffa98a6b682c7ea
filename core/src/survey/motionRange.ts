import { median } from '../time/index.ts'
import { type Difference, LEAST_CHANGE } from './difference.ts'
import { repeatThreshold } from './repeats.ts'

/** A range of frames in which something moves. */
export interface MotionRange {
  from: number
  to: number
}

/** Pauses of up to this many seconds do not end a motion: a turning point, a repeated frame. */
const PAUSE = 0.2
/** Something that covers so large a share of the picture is somebody walking by, not what was filmed. */
const LARGE = 0.2

/**
 * Where the motion begins and ends that is most likely the one that was filmed: of all ranges in which
 * something changes, the one whose moving part covers the longest way while it is small. Null where
 * nothing moves.
 *
 * @param differences of every frame from the one before
 * @param rate frames a second
 */
export function findMotion(differences: Difference[], rate: number): MotionRange | null {
  const threshold = Math.max(LEAST_CHANGE, 1.5 * repeatThreshold(differences))
  const pause = Math.max(2, Math.round(PAUSE * rate))
  const ranges: MotionRange[] = []
  for (let frame = 1; frame < differences.length; frame++) {
    if (differences[frame].change <= threshold) continue
    const last = ranges.at(-1)
    // What has changed in a frame has moved since the one before it.
    if (last && frame - last.to <= pause) last.to = frame
    else ranges.push({ from: frame - 1, to: frame })
  }
  let best: MotionRange | null = null
  let most = 0
  for (const range of ranges) {
    if (range.to - range.from < 3) continue
    const score = wayOf(differences, range)
    if (score > most) {
      most = score
      best = range
    }
  }
  return best
}

/** How far the middle of the change goes within a range, in picture widths, less for what covers much of the picture. */
function wayOf(differences: Difference[], { from, to }: MotionRange): number {
  let way = 0
  let before: Difference | null = null
  for (let frame = from + 1; frame <= to; frame++) {
    const at = differences[frame]
    if (!(at.area > 0)) continue
    if (before) way += Math.hypot(at.x - before.x, at.y - before.y) * Math.exp(-at.area / LARGE)
    before = at
  }
  return way
}

/** Frames over which a speed is taken: the middle of what changes is known to a good pixel only. */
const SPEED_OVER = 4

/**
 * How fast the moving part goes at its fastest, in picture pixels a frame: the largest median of three
 * neighbouring speeds, each over four frames, since its middle jumps where something else moves, too. 0
 * where nothing moves.
 */
export function fastestSpeed(
  differences: Difference[],
  range: MotionRange,
  picture: { width: number; height: number },
): number {
  const speeds: number[] = []
  for (let frame = range.from + 1 + SPEED_OVER; frame <= range.to; frame++) {
    const [a, b] = [differences[frame - SPEED_OVER], differences[frame]]
    const way = Math.hypot((b.x - a.x) * picture.width, (b.y - a.y) * picture.height)
    if (Number.isFinite(way)) speeds.push(way / SPEED_OVER)
  }
  let fastest = 0
  for (let at = 0; at + 3 <= speeds.length; at++)
    fastest = Math.max(fastest, median(speeds.slice(at, at + 3)))
  return fastest
}
