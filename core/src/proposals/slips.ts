import { distance } from '../geometry/index.ts'
import { type Segment, segmentAt, segmentThrough, type TimedPoint } from './segments.ts'

/**
 * Following slips slowly by up to so many standard errors of a mark, which bends a parabola by less than this share of its
 * acceleration.
 */
const SLIP = { errors: 2, acceleration: 0.6 }

/**
 * Returns segments with neighbours joined that are one motion, along which what follows the body has slipped: the parabola through both
 * lies near the marks of each, and they are accelerated about as it is.
 *
 * @param segments in order
 * @param error standard error of a mark along each direction
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
      const isNear = [before, last].every((one) => rmsFrom(both, one, points) <= SLIP.errors * error)
      if (!isNear || !isAsAccelerated(before, last, both)) break
      joined.pop()
      last = both
    }
    joined.push(last)
  }
  return joined
}

/** Returns the root mean square distance of a segment's marks from a parabola along each direction. */
function rmsFrom(parabola: Segment, { from, to }: Segment, points: readonly TimedPoint[]): number {
  let square = 0
  for (let i = from; i <= to; i++) {
    const { x, y } = segmentAt(parabola, points[i].t)
    square += (points[i].x - x) ** 2 + (points[i].y - y) ** 2
  }
  return Math.sqrt(square / (2 * (to - from + 1)))
}

/** Returns true if the accelerations of two segments differ by little of that of both. */
function isAsAccelerated(before: Segment, after: Segment, { acceleration: { x, y } }: Segment): boolean {
  return distance(before.acceleration, after.acceleration) < SLIP.acceleration * Math.hypot(x, y)
}
