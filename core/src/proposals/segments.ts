import type { Point } from '../geometry/index.ts'

/** A mark with its real time in seconds. */
export interface TimedPoint extends Point {
  t: number
}

/** A mark of a body in a frame. */
export interface FramePoint extends TimedPoint {
  frame: number
}

/** Consecutive marks through which one parabola goes: position and velocity at the middle of their times, and acceleration, in pixels. */
export interface Segment {
  /** Indices of its first and its last mark. */
  from: number
  to: number
  /** Middle of its times. */
  t: number
  position: Point
  velocity: Point
  acceleration: Point
  /** Standard error of the acceleration along each direction. */
  accelerationError: number
  /** Sum of the squared residuals along both directions, in squared pixels. */
  rss: number
}

/** Fewest marks of a segment: a parabola goes through three. */
const FEWEST = 5
/** Numbers that a segment costs: three coefficients along each direction, and where it begins. */
const PARAMETERS = 7

/**
 * Splits marks into segments through each of which a parabola goes: the partition with the least sum of χ² and, for each segment,
 * 7 ln 2n (the Bayesian information criterion), found by dynamic programming (Jackson et al., IEEE Signal Processing Letters 12
 * (2005) 105).
 *
 * @param points by time, n of them
 * @param error standard error of a mark along each direction
 * @returns segments in order that cover all marks; none for fewer than 5
 */
export function parabolaSegments(points: readonly TimedPoint[], error: number): Segment[] {
  const n = points.length
  if (n < FEWEST) return []
  const moments = new Moments(points)
  const penalty = PARAMETERS * Math.log(2 * n)
  /** Least cost of the first so many marks, and where the last of their segments begins. */
  const least = new Float64Array(n + 1).fill(Number.POSITIVE_INFINITY)
  const begins = new Int32Array(n + 1)
  least[0] = 0
  for (let end = FEWEST; end <= n; end++)
    for (let from = 0; from + FEWEST <= end; from++) {
      if (least[from] >= least[end]) continue
      const cost = least[from] + penalty + moments.rss(from, end) / error ** 2
      if (cost < least[end]) {
        least[end] = cost
        begins[end] = from
      }
    }
  const segments: Segment[] = []
  for (let end = n; end > 0; end = begins[end]) segments.unshift(moments.segment(begins[end], end, error))
  return segments
}

/** Returns the parabola through marks from one to another, both included. */
export function segmentThrough(
  points: readonly TimedPoint[],
  from: number,
  to: number,
  error: number,
): Segment {
  return new Moments(points).segment(from, to + 1, error)
}

/** Returns the number of marks of a segment. */
export const countOf = ({ from, to }: Segment) => to - from + 1

/** Returns where a parabola is at a time, in seconds. */
export function segmentAt({ t, position, velocity, acceleration }: Segment, time: number): Point {
  const after = time - t
  const along = (axis: 'x' | 'y') =>
    position[axis] + velocity[axis] * after + (acceleration[axis] * after * after) / 2
  return { x: along('x'), y: along('y') }
}

/** Returns the variance of where the parabola through marks is at a time, over that of a mark. */
export function segmentVarianceAt(
  points: readonly TimedPoint[],
  from: number,
  to: number,
  time: number,
): number {
  return new Moments(points).varianceAt(from, to + 1, time)
}

/** Sums of powers of time and of positions up to each mark, from which the parabola of any segment follows at once. */
class Moments {
  /** Times and positions are about these, so that the sums keep their digits. */
  private readonly middle: TimedPoint
  private readonly scale: number
  /** Sums of u⁰ … u⁴, of x u⁰ … x u², of y u⁰ … y u², and of x² + y², with u the scaled time. */
  private readonly sums: Float64Array

  constructor(points: readonly TimedPoint[]) {
    const n = points.length
    const mean = (key: 't' | 'x' | 'y') => points.reduce((sum, point) => sum + point[key], 0) / n
    this.middle = { t: mean('t'), x: mean('x'), y: mean('y') }
    this.scale = Math.max(points[n - 1].t - points[0].t, 1e-12)
    this.sums = new Float64Array(SUMS * (n + 1))
    points.forEach(({ t, x, y }, i) => {
      const u = (t - this.middle.t) / this.scale
      const [dx, dy] = [x - this.middle.x, y - this.middle.y]
      const terms = [
        1,
        u,
        u * u,
        u ** 3,
        u ** 4,
        dx,
        dx * u,
        dx * u * u,
        dy,
        dy * u,
        dy * u * u,
        dx * dx + dy * dy,
      ]
      for (let k = 0; k < SUMS; k++) this.sums[SUMS * (i + 1) + k] = this.sums[SUMS * i + k] + terms[k]
    })
  }

  /** Returns the sum of squared residuals of a parabola through marks from one to before another. */
  rss(from: number, end: number): number {
    return this.solved(from, end).rss
  }

  segment(from: number, end: number, error: number): Segment {
    const { centre, x, y, rss, q2 } = this.solved(from, end)
    const { middle, scale } = this
    return {
      from,
      to: end - 1,
      t: middle.t + scale * centre,
      position: { x: middle.x + x[0], y: middle.y + y[0] },
      velocity: { x: x[1] / scale, y: y[1] / scale },
      acceleration: { x: (2 * x[2]) / scale ** 2, y: (2 * y[2]) / scale ** 2 },
      accelerationError: (2 * error) / Math.sqrt(q2) / scale ** 2,
      rss,
    }
  }

  varianceAt(from: number, end: number, time: number): number {
    const { n, centre, a, b, s2, q2 } = this.solved(from, end)
    const v = (time - this.middle.t) / this.scale - centre
    return 1 / n + v ** 2 / s2 + (v * v - b * v - a) ** 2 / q2
  }

  /** Least squares through orthogonal polynomials in the time about the segment's mean. */
  private solved(from: number, end: number) {
    const m = (k: number) => this.sums[SUMS * end + k] - this.sums[SUMS * from + k]
    const n = m(0)
    const c = m(1) / n
    // Central moments of the time.
    const s2 = m(2) - n * c * c
    const s3 = m(3) - 3 * c * m(2) + 2 * n * c ** 3
    const s4 = m(4) - 4 * c * m(3) + 6 * c * c * m(2) - 3 * n * c ** 4
    // The quadratic that is orthogonal to 1 and v = u − c: v² − b v − a.
    const [a, b] = [s2 / n, s3 / s2]
    const q2 = s4 - s3 * b - s2 * a
    const along = (first: number) => {
      const d0 = m(first)
      const d1 = m(first + 1) - c * d0
      const dv2 = m(first + 2) - 2 * c * m(first + 1) + c * c * d0
      const d2 = dv2 - b * d1 - a * d0
      const [k0, k1, k2] = [d0 / n, d1 / s2, d2 / q2]
      // In powers of v.
      return { coefficients: [k0 - a * k2, k1 - b * k2, k2], explained: k0 * d0 + k1 * d1 + k2 * d2 }
    }
    const [x, y] = [along(5), along(8)]
    const rss = Math.max(0, m(11) - x.explained - y.explained)
    return { n, centre: c, a, b, s2, q2, x: x.coefficients, y: y.coefficients, rss }
  }
}

const SUMS = 12
