import { type FramePoint, segmentAt, segmentThrough, segmentVarianceAt } from './segments.ts'

/** Frames without a mark in a row that are a gap: something has hidden the body, or it was not found. */
const GAP = 3
/** Marks beside a gap that may be of a part of the body, and marks before those that tell where it should be. */
const BESIDE = { doubtful: 5, trusted: 10 }
/** Residual, in standard errors along each direction, from which a mark is not of the body. */
const STRANGE = 2.5

/**
 * Returns marks without those beside gaps that do not go on as the marks farther from the gap do: of a body that goes behind
 * something only a part is seen there, and its marks lie beside its middle.
 *
 * @param points marks by time
 * @param error standard error of a mark along each direction, in pixels
 */
export function withoutPartlyHidden(points: readonly FramePoint[], error: number): FramePoint[] {
  const kept = points.map(() => true)
  for (let i = 1; i < points.length; i++) {
    if (points[i].frame - points[i - 1].frame <= GAP) continue
    drop(kept, points, i - 1, -1, error)
    drop(kept, points, i, 1, error)
  }
  return points.filter((_, i) => kept[i])
}

/** Drops the marks beside a gap from the first one on that does not fit, seen from the marks farther from the gap. */
function drop(
  kept: boolean[],
  points: readonly FramePoint[],
  nearest: number,
  away: 1 | -1,
  error: number,
): void {
  for (let k = BESIDE.doubtful - 1; k >= 0; k--) {
    const mark = nearest + away * k
    const [from, to] = [mark + away, mark + away * BESIDE.trusted].sort((a, b) => a - b)
    if (from < 0 || to >= points.length) continue
    const { t, x, y } = points[mark]
    const expected = segmentAt(segmentThrough(points, from, to, error), t)
    const spread = error * Math.sqrt(1 + segmentVarianceAt(points, from, to, t))
    if (Math.hypot(x - expected.x, y - expected.y) < STRANGE * Math.SQRT2 * spread) continue
    for (let doubtful = 0; doubtful <= k; doubtful++) kept[nearest + away * doubtful] = false
    return
  }
}
