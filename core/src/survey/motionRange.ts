import { type Difference, LEAST_CHANGE } from './difference.ts'
import { typicalNoise } from './repeats.ts'

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
 * Returns where the motion begins and ends that is most likely the one that was filmed: of all ranges in which
 * something changes, the one whose moving part covers the longest way while it is small. Null where
 * nothing moves.
 *
 * @param differences of every frame from the one before
 * @param rate frames a second
 */
export function findMotion(differences: Difference[], rate: number): MotionRange | null {
  const noise = 1.5 * typicalNoise(differences)
  const pause = Math.max(2, Math.round(PAUSE * rate))
  const ranges: MotionRange[] = []
  for (let frame = 1; frame < differences.length; frame++) {
    // A key frame changes the whole picture a little: its own noise tells.
    const least = Math.max(LEAST_CHANGE, noise, 1.5 * differences[frame].noise)
    if (differences[frame].change <= least) continue
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

/** Returns how far the middle of the change goes within a range, in picture widths, less for what covers much of the picture. */
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

/** Steps in a row over which a speed is taken. */
const STEPS = 4
/** Steps in a row that differ by more than this share of their mean, and a little, belong to different things. */
const STEADY = 0.5

/**
 * Returns how fast something goes at its fastest, in picture pixels a frame: of all four steps in a row of the
 * patch that changes most, those count that follow each other steadily, since the patch jumps where
 * another thing changes more. 0 where nothing moves steadily.
 */
export function fastestSpeed(
  differences: Difference[],
  range: MotionRange,
  picture: { width: number; height: number },
): number {
  const little = 0.004 * picture.width
  const steps: { x: number; y: number }[] = []
  for (let frame = range.from + 2; frame <= range.to; frame++) {
    const [a, b] = [differences[frame - 1], differences[frame]]
    steps.push({ x: (b.patchX - a.patchX) * picture.width, y: (b.patchY - a.patchY) * picture.height })
  }
  let fastest = 0
  for (let at = 0; at + STEPS <= steps.length; at++) {
    const row = steps.slice(at, at + STEPS)
    const mean = {
      x: row.reduce((sum, step) => sum + step.x, 0) / STEPS,
      y: row.reduce((sum, step) => sum + step.y, 0) / STEPS,
    }
    const speed = Math.hypot(mean.x, mean.y)
    const isSteady = row.every(
      (step) => Math.hypot(step.x - mean.x, step.y - mean.y) < STEADY * speed + little,
    )
    if (isSteady) fastest = Math.max(fastest, speed)
  }
  return fastest
}
