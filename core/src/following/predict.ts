import type { Point } from '../geometry/index.ts'

/** Motion models by which a body's next position is predicted from its last ones. */
export const PREDICTIONS = ['stays', 'steady', 'curved'] as const
export type PredictionName = (typeof PREDICTIONS)[number]

/** Predicted position of a body at a time, in pixels and seconds. */
export interface Prediction extends Point {
  velocity: Point
  /** Standard deviation along each direction; infinite where nothing is known yet. */
  error: number
  by: PredictionName
}

interface Seen extends Point {
  time: number
}

/** Points that each way looks back on, at most, and needs, at least. */
const BACK: Record<PredictionName, { most: number; least: number }> = {
  stays: { most: 1, least: 1 },
  steady: { most: 3, least: 2 },
  curved: { most: 6, least: 4 },
}
/** How much of what was learned of a way's errors is kept from point to point. */
const KEPT = 0.75
/** No prediction is trusted to be better than this, in pixels. */
const FINEST = 0.7

/**
 * Predicts a body's next position: at rest, uniform, or along the parabola through its last positions. Each model is
 * scored against what then happened, and the one with the smallest recent error is used.
 */
export class Predictor {
  private readonly seen: Seen[] = []
  private readonly errors = new Map<PredictionName, number>()
  /** What was told last, and for which time: it is asked for several times. */
  private predicted: { time: number; prediction: Prediction } | null = null

  /** Takes in where the body was. Times must all grow, or all fall. */
  add(time: number, { x, y }: Point): void {
    this.predicted = null
    for (const way of PREDICTIONS) {
      const predicted = this.by(way, time)
      if (!predicted) continue
      const square = (predicted.x - x) ** 2 + (predicted.y - y) ** 2
      const known = this.errors.get(way)
      this.errors.set(way, known === undefined ? square : KEPT * known + (1 - KEPT) * square)
    }
    this.seen.push({ time, x, y })
    if (this.seen.length > 8) this.seen.shift()
  }

  /** Forgets the way that the body came, but not where it is: after a jump. */
  restart(time: number, at: Point): void {
    this.predicted = null
    this.seen.length = 0
    this.errors.clear()
    this.seen.push({ time, x: at.x, y: at.y })
  }

  /** Returns where the body is expected at a time. There must have been at least one place. */
  at(time: number): Prediction {
    if (this.predicted?.time !== time) this.predicted = { time, prediction: this.foretold(time) }
    return this.predicted.prediction
  }

  private foretold(time: number): Prediction {
    let best: PredictionName = 'stays'
    let least = this.errors.get('stays') ?? Number.POSITIVE_INFINITY
    for (const way of PREDICTIONS) {
      const error = this.errors.get(way)
      // Until a way has been held against something, a velocity is a better guess than none.
      if (error === undefined && way === 'steady' && this.seen.length >= 2) {
        best = way
        least = Number.POSITIVE_INFINITY
      } else if (error !== undefined && error <= least) {
        best = way
        least = error
      }
    }
    const predicted = this.by(best, time)!
    const step = this.step()
    // Over a gap what is not known of velocity and acceleration grows.
    const gap = step > 0 ? Math.abs(time - this.seen[this.seen.length - 1].time) / step : 1
    const error = Math.max(FINEST, 1.3 * Math.sqrt(least)) * Math.max(1, gap ** 1.3)
    return { ...predicted, error, by: best }
  }

  /** Usual time between two places; 0 where there are not two. */
  private step(): number {
    const { seen } = this
    if (seen.length < 2) return 0
    return Math.abs(seen[seen.length - 1].time - seen[0].time) / (seen.length - 1)
  }

  private by(way: PredictionName, time: number): (Point & { velocity: Point }) | null {
    const { most, least } = BACK[way]
    const points = this.seen.slice(-most)
    if (points.length < least) return null
    const last = points[points.length - 1]
    if (way === 'stays') return { x: last.x, y: last.y, velocity: { x: 0, y: 0 } }
    const degree = way === 'steady' ? 1 : 2
    const times = points.map((point) => point.time - last.time)
    const x = quadratic(
      times,
      points.map((point) => point.x),
      degree,
    )
    const y = quadratic(
      times,
      points.map((point) => point.y),
      degree,
    )
    const t = time - last.time
    return {
      x: x[0] + x[1] * t + x[2] * t * t,
      y: y[0] + y[1] * t + y[2] * t * t,
      velocity: { x: x[1] + 2 * x[2] * t, y: y[1] + 2 * y[2] * t },
    }
  }
}

/** Least-squares polynomial of degree 1 or 2 through a few points: its three coefficients. */
function quadratic(t: number[], values: number[], degree: number): [number, number, number] {
  const n = t.length
  const reach = Math.max(...t.map(Math.abs)) || 1
  let [s1, s2, s3, s4] = [0, 0, 0, 0]
  let [p0, p1, p2] = [0, 0, 0]
  for (let i = 0; i < n; i++) {
    const u = t[i] / reach
    const square = u * u
    s1 += u
    s2 += square
    s3 += square * u
    s4 += square * square
    p0 += values[i]
    p1 += u * values[i]
    p2 += square * values[i]
  }
  if (degree === 1) {
    const d = n * s2 - s1 * s1
    return [(p0 * s2 - p1 * s1) / d, (n * p1 - s1 * p0) / d / reach, 0]
  }
  const d = n * (s2 * s4 - s3 * s3) - s1 * (s1 * s4 - s2 * s3) + s2 * (s1 * s3 - s2 * s2)
  const a = (p0 * (s2 * s4 - s3 * s3) - s1 * (p1 * s4 - p2 * s3) + s2 * (p1 * s3 - p2 * s2)) / d
  const b = (n * (p1 * s4 - p2 * s3) - p0 * (s1 * s4 - s2 * s3) + s2 * (s1 * p2 - s2 * p1)) / d
  const c = (n * (s2 * p2 - s3 * p1) - s1 * (s1 * p2 - s2 * p1) + p0 * (s1 * s3 - s2 * s2)) / d
  return [a, b / reach, c / reach ** 2]
}
