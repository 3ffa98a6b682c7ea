import { median } from '../time/index.ts'
import { type FramePoint, segmentAt, segmentThrough, segmentVarianceAt } from './segments.ts'

/** Steps between marks, as they usually are, beyond which there is a gap: something has hidden the body, or it was not found. */
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
  const steps = points.slice(1).map(({ frame }, i) => frame - points[i].frame)
  // Only every n-th frame may be marked.
  const usual = median(steps)
  for (let i = 1; i < points.length; i++) {
    if (steps[i - 1] <= GAP * usual) continue
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
    const trusted = points.slice(from, to + 1)
    const { t, x, y } = points[mark]
    const expected = segmentAt(segmentThrough(trusted, 0, trusted.length - 1, error), t)
    const spread = error * Math.sqrt(1 + segmentVarianceAt(trusted, 0, trusted.length - 1, t))
    if (Math.hypot(x - expected.x, y - expected.y) < STRANGE * Math.SQRT2 * spread) continue
    for (let doubtful = 0; doubtful <= k; doubtful++) kept[nearest + away * doubtful] = false
    return
  }
}
