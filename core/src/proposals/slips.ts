import { distance } from '../geometry/index.ts'
import { countOf, type Segment, segmentAt, segmentThrough, type TimedPoint } from './segments.ts'

/**
 * Limits up to which neighbouring segments are one motion: RMS distance of the marks of each from the parabola through both, in standard
 * errors of a mark, and change of acceleration relative to that parabola's. One that has more than `whole` of the marks of both stays as it
 * is: it gains little, and its law is told better without the slip.
 */
const SAME_MOTION = { rms: 2, acceleration: 0.6, whole: 0.8 }

/**
 * Joins neighbouring segments that are one motion: while a body is followed its marks can drift by a pixel or two over several frames,
 * which splits the motion into segments though its law does not change.
 *
 * @param segments in order
 * @param error standard error of a mark along each direction
 * @returns segments in order that cover the same marks
 */
export function joinedOverSlips(
  segments: readonly Segment[],
  points: readonly TimedPoint[],
  error: number,
): Segment[] {
  const joined: Segment[] = []
  for (const segment of segments) {
    let last = segment
    for (let before = joined.at(-1); before; before = joined.at(-1)) {
      const both = segmentThrough(points, before.from, last.to, error)
      const isNear = [before, last].every((one) => rmsFrom(both, one, points) <= SAME_MOTION.rms * error)
      const isWhole = Math.max(countOf(before), countOf(last)) > SAME_MOTION.whole * countOf(both)
      if (!isNear || isWhole || !isAsAccelerated(before, last, both)) break
      joined.pop()
      last = both
    }
    joined.push(last)
  }
  return joined
}

/** Returns the RMS distance of a segment's marks from a parabola along each direction, in pixels. */
function rmsFrom(parabola: Segment, segment: Segment, points: readonly TimedPoint[]): number {
  let square = 0
  for (let i = segment.from; i <= segment.to; i++) {
    const { x, y } = segmentAt(parabola, points[i].t)
    square += (points[i].x - x) ** 2 + (points[i].y - y) ** 2
  }
  return Math.sqrt(square / (2 * countOf(segment)))
}

/** Returns true if the accelerations of two segments differ little, relative to that of the parabola through both. */
function isAsAccelerated(before: Segment, after: Segment, { acceleration: { x, y } }: Segment): boolean {
  return distance(before.acceleration, after.acceleration) < SAME_MOTION.acceleration * Math.hypot(x, y)
}
