import { fitLine, type Point } from '../geometry/index.ts'
import { withoutPartlyHidden } from './gaps.ts'
import {
  countOf,
  type FramePoint,
  parabolaSegments,
  type Segment,
  segmentAt,
  segmentThrough,
  type TimedPoint,
} from './segments.ts'
import { joinedOverSlips } from './slips.ts'

/** Frames in which one law of motion holds, both included. */
export interface ProposedStretch {
  from: number
  to: number
  law: StretchLaw
  /** What is before it and after it. */
  begins: StretchEnd
  ends: StretchEnd
}

/** Straight and even; with one acceleration; to and fro. */
export type StretchLaw = 'uniform' | 'uniform-acceleration' | 'oscillation'

/** The marks begin or end there; it begins or ends at rest; its velocity changes at once; another law holds. */
export type StretchEnd = 'marks' | 'rest' | 'abrupt' | 'change'

/** Fewest marks of a stretch. */
export const FEWEST_OF_STRETCH = 6
/** Standard errors of a mark within which a body is at rest. */
const REST = 6
/**
 * A velocity changes at once by more than so many standard errors, and by more than these shares of itself and of how it changes
 * within the segments: where parabolas stand for another law, it changes a little from each to the next.
 */
const ABRUPT = { errors: 5, speed: 0.2, within: 0.3 }
/** Least share of the marks and of the extent of the largest stretch that another one has. */
const COMPARABLE = { marks: 0.15, extent: 0.03 }
/** Share of a run of segments without abrupt changes that one of them must have for its law to be the run's. */
const DOMINANT = 0.5
/** Turning points of something that goes to and fro. */
const TURNING_POINTS = 3
/** An acceleration is told from none from so many standard errors on, if it leads away by so many errors of a mark. */
const ACCELERATED = 4
/** Standard errors of a mark up to which a body may still be at rest, or be so again. */
const DOUBTFUL = 2
/** Residual, in standard errors, from which a mark at an end belongs to what is before or after. */
const STRANGE = 2.5

/**
 * Returns the stretches on which one law of motion holds, by time: flights, slides and rolls through which one parabola goes, even
 * motion, and oscillations, which are runs of parabolas without an abrupt change that turn back three times. The ends are drawn in by
 * marks that do not fit.
 *
 * @param all marks by time
 * @param error standard error of a mark along each direction, in pixels
 */
export function motionStretches(all: readonly FramePoint[], error: number): ProposedStretch[] {
  const points = withoutPartlyHidden(all, error)
  const segments = joinedOverSlips(parabolaSegments(points, error), points, error)
  const resting = segments.map((segment) => extentOf(segment, points) < REST * error)
  const stretches: Found[] = []
  const endOf = (before: number, after: number): StretchEnd => {
    if (before < 0 || after >= segments.length) return 'marks'
    if (isAbrupt(segments[before], segments[after], points, error)) return 'abrupt'
    return resting[before] || resting[after] ? 'rest' : 'change'
  }
  const add = (first: number, last: number, law: StretchLaw) => {
    const [begins, ends] = [endOf(first - 1, first), endOf(last, last + 1)]
    let { from } = segments[first]
    let { to } = segments[last]
    if (first === last) {
      const fitting = drawnIn(points, segments[first], error)
      const doubtful = doubtfulSeconds(fitting, error)
      const rests = restTime(fitting)
      const isDoubtful = (mark: number, end: StretchEnd) =>
        end === 'rest' && Math.abs(points[mark].t - rests) < doubtful
      for ({ from } = fitting; from < to && isDoubtful(from, begins); ) from++
      for ({ to } = fitting; to > from && isDoubtful(to, ends); ) to--
    }
    if (to - from + 1 < FEWEST_OF_STRETCH) return
    stretches.push({
      stretch: {
        from: points[from].frame,
        to: points[to].frame,
        law,
        begins,
        ends,
      },
      marks: to - from + 1,
      extent: reachOf(points.slice(from, to + 1)),
    })
  }
  for (let first = 0; first < segments.length; first++) {
    if (resting[first]) continue
    let last = first
    while (last + 1 < segments.length && !resting[last + 1] && endOf(last, last + 1) === 'change') last++
    const run = segments.slice(first, last + 1)
    const longest = run.reduce((best, one) => (countOf(one) > countOf(best) ? one : best))
    const at = segments.indexOf(longest)
    const isOfOne = countOf(longest) >= DOMINANT * run.reduce((sum, one) => sum + countOf(one), 0)
    if (!isOfOne && turningPoints(run, points) >= TURNING_POINTS) add(first, last, 'oscillation')
    else add(at, at, isAccelerated(longest, points, error) ? 'uniform-acceleration' : 'uniform')
    first = last
  }
  const most = (of: (stretch: Found) => number) => Math.max(...stretches.map(of))
  const [marks, extent] = [most((one) => one.marks), most((one) => one.extent)]
  return stretches
    .filter((one) => one.marks >= COMPARABLE.marks * marks && one.extent >= COMPARABLE.extent * extent)
    .map(({ stretch }) => stretch)
}

interface Found {
  stretch: ProposedStretch
  marks: number
  extent: number
}

/** Returns how far a segment reaches, in pixels: the diagonal of the box around its parabola at its marks. */
function extentOf(segment: Segment, points: readonly TimedPoint[]): number {
  return reachOf(points.slice(segment.from, segment.to + 1).map(({ t }) => segmentAt(segment, t)))
}

/** Returns the diagonal of the box around places. */
function reachOf(places: readonly Point[]): number {
  const along = (axis: 'x' | 'y') => {
    const values = places.map((place) => place[axis])
    return Math.max(...values) - Math.min(...values)
  }
  return Math.hypot(along('x'), along('y'))
}

const velocityAt = ({ t, velocity, acceleration }: Segment, time: number): Point => ({
  x: velocity.x + acceleration.x * (time - t),
  y: velocity.y + acceleration.y * (time - t),
})

/** Returns true if the velocity changes at once from one segment to the next. */
function isAbrupt(before: Segment, after: Segment, points: readonly TimedPoint[], error: number): boolean {
  const time = (points[before.to].t + points[after.from].t) / 2
  const [left, right] = [velocityAt(before, time), velocityAt(after, time)]
  const change = Math.hypot(right.x - left.x, right.y - left.y)
  const uncertainty = Math.hypot(
    endVelocityError(before, points, error),
    endVelocityError(after, points, error),
  )
  const speed = Math.max(Math.hypot(left.x, left.y), Math.hypot(right.x, right.y))
  const within = changeWithin(before, points) + changeWithin(after, points)
  return (
    change > ABRUPT.errors * uncertainty && change > ABRUPT.speed * speed && change > ABRUPT.within * within
  )
}

/** Returns by how much the velocity changes within a segment. */
function changeWithin({ acceleration, from, to }: Segment, points: readonly TimedPoint[]): number {
  return Math.hypot(acceleration.x, acceleration.y) * (points[to].t - points[from].t)
}

/** Standard error of the slope at the end of a parabola through n evenly spaced marks over T seconds: σ √(192/n) / T. */
function endVelocityError({ from, to }: Segment, points: readonly TimedPoint[], error: number): number {
  return (error * Math.sqrt(192 / (to - from + 1))) / (points[to].t - points[from].t)
}

/** Returns the time at which a segment's parabola is slowest. */
function restTime({ t, velocity, acceleration }: Segment): number {
  const square = acceleration.x ** 2 + acceleration.y ** 2
  return square > 0 ? t - (velocity.x * acceleration.x + velocity.y * acceleration.y) / square : t
}

/** Returns the seconds that a body must have been accelerated from rest before that shows: where its marks are two errors away. */
function doubtfulSeconds({ acceleration }: Segment, error: number): number {
  return Math.sqrt((2 * DOUBTFUL * error) / Math.max(1e-9, Math.hypot(acceleration.x, acceleration.y)))
}

function isAccelerated(segment: Segment, points: readonly TimedPoint[], error: number): boolean {
  const { acceleration, accelerationError, from, to } = segment
  const size = Math.hypot(acceleration.x, acceleration.y)
  // How far the parabola is from its chord.
  const sag = (size * (points[to].t - points[from].t) ** 2) / 8
  return size > ACCELERATED * accelerationError && sag > ACCELERATED * error
}

/** Returns how often a run turns back along the direction in which it reaches farthest. */
function turningPoints(run: readonly Segment[], points: readonly TimedPoint[]): number {
  const marks = points.slice(run[0].from, run[run.length - 1].to + 1)
  const { direction } = fitLine(marks)
  const [cos, sin] = [Math.cos(direction), -Math.sin(direction)]
  let [turns, sign] = [0, 0]
  for (const segment of run)
    for (let i = segment.from; i <= segment.to; i++) {
      const velocity = velocityAt(segment, points[i].t)
      const now = Math.sign(cos * velocity.x + sin * velocity.y)
      if (sign !== 0 && now !== 0 && now !== sign) turns++
      if (now !== 0) sign = now
    }
  return turns
}

/** Returns a segment without marks at its ends that do not fit the others. */
function drawnIn(points: readonly TimedPoint[], segment: Segment, error: number): Segment {
  let { from, to } = segment
  const isStrange = (mark: number, inner: Segment) => {
    const expected = segmentAt(inner, points[mark].t)
    return Math.hypot(points[mark].x - expected.x, points[mark].y - expected.y) > STRANGE * Math.SQRT2 * error
  }
  for (let isLess = true; isLess && to - from > FEWEST_OF_STRETCH; ) {
    const inner = segmentThrough(points, from + 1, to - 1, error)
    const [begins, ends] = [isStrange(from, inner), isStrange(to, inner)]
    if (begins) from++
    if (ends) to--
    isLess = begins || ends
  }
  return segmentThrough(points, from, to, error)
}
