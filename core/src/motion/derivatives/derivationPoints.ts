import type { LinearMap } from '../../regression/index.ts'
import { median } from '../../time/index.ts'

/** Points of a motion along time, as derivatives see them. */
export interface DerivationPoints {
  /** Seconds at which each point begins and ends to be there: the same, but where the body rests. */
  from: ArrayLike<number>
  to: ArrayLike<number>
  /** Points before which the motion breaks: nothing is derived across. */
  breaks: ReadonlySet<number>
}

/** A derived quantity: the points that have it, and how it comes from the values of all points. */
export interface Derived {
  rows: number[]
  map: LinearMap
  /** By how much each standard error is more than the points' own make it, where the method's own is reckoned in. */
  widened?: number[]
  /** What the points scatter by where the method itself has told that from them, and degrees of freedom of it. */
  scatter?: Scatter
}

/** Variance of one position about a motion, and how many degrees of freedom it was told from. */
export interface Scatter {
  variance: number
  freedom: number
}

/** Points of one smooth stretch of a motion, in order. */
export interface Run {
  /** The first point of it, of all. */
  first: number
  /** Seconds of each of its points. */
  times: number[]
  /** Whether its first and last point are the end and the beginning of a rest: they have no derivative of their own. */
  rests: { first: boolean; last: boolean }
}

/** A time between two points that is longer than so many typical ones is a gap. */
const GAP = 4

/** Kept by the points, for velocity and acceleration. */
const known = new WeakMap<DerivationPoints, readonly Run[]>()

/**
 * Returns the stretches of a motion in which things can be derived: none goes over a break, over a gap, or through a rest.
 * A rest is the last point of the one before it, where it begins, and the first of the one after it, where it ends.
 */
export function runsOf(points: DerivationPoints): readonly Run[] {
  const ready = known.get(points)
  if (ready) return ready
  const { from, to, breaks } = points
  const count = from.length
  const steps = new Float64Array(Math.max(0, count - 1))
  for (let i = 0; i + 1 < count; i++) steps[i] = from[i + 1] - to[i]
  const longest = GAP * median(steps)
  const runs: Run[] = []
  let first = 0
  for (let i = 0; i < count; i++) {
    const isRest = from[i] !== to[i]
    const isEnd = i === count - 1 || breaks.has(i + 1) || steps[i] > longest
    if (!isEnd && !(isRest && i > first)) continue
    const times = [to[first]]
    for (let k = first + 1; k <= i; k++) times.push(from[k])
    runs.push({ first, times, rests: { first: from[first] !== to[first], last: isRest } })
    first = isRest && !isEnd ? i : i + 1
  }
  known.set(points, runs)
  return runs
}

/** Some of a motion's points, in order, by their rows: a break before one that is left out stands before the next. */
export function pickPoints(
  { from, to, breaks }: DerivationPoints,
  rows: readonly number[],
): DerivationPoints {
  const picked = new Set<number>()
  for (const at of breaks) {
    const next = rows.findIndex((row) => row >= at)
    if (next >= 0) picked.add(next)
  }
  return { from: rows.map((row) => from[row]), to: rows.map((row) => to[row]), breaks: picked }
}

/** Returns the points of a run that have a derivative of their own, counted from its first one. */
export function ownPoints({ times, rests }: Run): number[] {
  const points: number[] = []
  const last = times.length - 1
  for (let k = 0; k <= last; k++) if (!(rests.first && k === 0) && !(rests.last && k === last)) points.push(k)
  return points
}
