import { type Body, framesOf, type Mark, OUTLIER_LIMIT } from '../investigation/index.ts'
import { residualSumOfSquares } from '../regression/index.ts'
import { type CachedValue, cached, cacheOf } from './diagnosisCache.ts'
import { type Jump, jumpsIn } from './jumps.ts'
import { chiSquareOf, MISFIT, type Parabola, parabola, type TimedMark } from './localParabola.ts'
import { markErrorOf, markErrors } from './markError.ts'

/** A mark that does not fit the smooth motion through its neighbours. */
export interface Outlier {
  frame: number
  /** Distance from the expected position in standard errors of that distance. */
  size: number
}

/** Suspicious places in the marks of a body. */
export interface TrackDiagnosis {
  outliers: Outlier[]
  /**
   * Frames of marks before which the velocity seems to change abruptly (a bounce, a collision), without those that a person has
   * accepted or denied.
   */
  breaks: number[]
  /** Followed marks before which the position jumps, without those that a person has confirmed. */
  jumps: Jump[]
}

/** Least standard error of a mark that is assumed, in pixels: smaller slips are not suspicious. */
const LEAST_ERROR = 0.25
/** Least number of marks of a body that are diagnosed. */
const LEAST_MARKS = 6
/** Marks on either side that the expected position follows from, and on one side at an end. */
const NEIGHBOURS = 3
const ONE_SIDED_NEIGHBOURS = 7
/** Neighbours that deviate from the parabola by more standard errors than this are not used for it. */
const MAX_DEVIATION = 3.5
/** Least number of marks of a body in which breaks are searched. */
const LEAST_MARKS_FOR_BREAKS = 16
/** Marks on either side of a break that are fitted. */
const SIDE = { least: 5, most: 12 }
/** Least reduction of χ² by two parabolas instead of one for a break, absolute and relative to its lower quartile in this motion. */
const BREAK = { least: 40, typical: 20 }

/** Relative step in which errors are rounded: otherwise each new mark would invalidate everything cached. */
const STEP = 0.02
const inSteps = (error: number) => Math.exp(STEP * Math.round(Math.log(error) / STEP))

/**
 * Finds outliers, breaks and jumps in the marks of a body. A mark is an outlier if it deviates from the parabola through its
 * neighbours on both sides or, where those have none in common, from the parabola of each side. The parabola is a consensus:
 * least median of squares over all triples (Rousseeuw, J. American Statistical Association 79 (1984) 871), then least squares
 * through the inliers. So a bounce is a break, not a row of outliers.
 *
 * Confirmed marks are no outliers. The motion is diagnosed separately on either side of rests and accepted breaks.
 *
 * @param seconds real time of every frame (s)
 * @param limit standard errors beyond which a mark is an outlier
 */
export function diagnoseTrack(
  body: Body,
  seconds: ArrayLike<number>,
  limit: number = OUTLIER_LIMIT.default,
): TrackDiagnosis {
  const all = framesOf(body).filter((frame) => frame < seconds.length)
  const frames = all.filter((frame) => body.marks[frame].until === undefined)
  if (frames.length < LEAST_MARKS) return { outliers: [], breaks: [], jumps: [] }
  const errors = markErrors(body)
  const error = inSteps(Math.max(LEAST_ERROR, markErrorOf(body)))
  const memory = cacheOf(seconds)
  const points = frames.map((frame): TimedMark => {
    const mark = body.marks[frame]
    return { t: seconds[frame], x: mark.x, y: mark.y, mark }
  })
  const afterRests = new Set(all.filter((_, i) => i > 0 && body.marks[all[i - 1]].until !== undefined))
  const accepted = frames.flatMap((frame, i) =>
    afterRests.has(frame) || body.breaks[frame] === 'break' ? [i] : [],
  )
  const denied = frames.flatMap((frame, i) => (body.breaks[frame] === 'none' ? [i] : []))
  const isNear = (i: number) => (other: number) => Math.abs(other - i) <= NEIGHBOURS
  const found = breaksIn(points, error, memory.gains).filter(
    (i) => !accepted.some(isNear(i)) && !denied.some(isNear(i)),
  )
  const breaks = [...accepted, ...found].sort((a, b) => a - b)
  const outliers: Outlier[] = []
  let next = 0
  frames.forEach((frame, i) => {
    while (next < breaks.length && breaks[next] <= i) next++
    const from = Math.max(breaks[next - 1] ?? 0, i - ONE_SIDED_NEIGHBOURS)
    const to = Math.min(breaks[next] ?? points.length, i + 1 + ONE_SIDED_NEIGHBOURS)
    const own = inSteps(Math.max(LEAST_ERROR, errors.at(frame)))
    const size = cached(memory.sizes, points, [from, i, to], own, () =>
      standardisedDeviation(points, i, own, from, to),
    )
    if (size > limit && !body.marks[frame].right) outliers.push({ frame, size })
  })
  const isOutlier = new Set(outliers.map((outlier) => outlier.frame))
  // An outlier is a jump there and back: it is reported once.
  const jumps = jumpsIn(points, error, memory.jumps)
    .filter(
      ({ at }) => points[at].mark.by === 'follow' && !accepted.some(isNear(at)) && !denied.some(isNear(at)),
    )
    .filter(({ at }) => !isOutlier.has(frames[at]) && !isOutlier.has(frames[at - 1]))
  // A jump also looks like a break.
  const isBreak = (i: number) => !jumps.some(({ at }) => isNear(at)(i))
  return {
    outliers,
    breaks: found.filter(isBreak).map((i) => frames[i]),
    jumps: jumps.map(({ at, length }) => ({ frame: frames[at], length })),
  }
}

/**
 * Returns the distance of a mark from the position expected from its neighbours, in standard errors.
 *
 * @param from index of the first mark that may be used
 * @param to index behind the last one
 */
function standardisedDeviation(
  points: TimedMark[],
  i: number,
  error: number,
  from: number,
  to: number,
): number {
  const beside = (count: number) => [
    ...points.slice(Math.max(from, i - count), i),
    ...points.slice(i + 1, Math.min(to, i + 1 + count)),
  ]
  const isInside = i - from >= NEIGHBOURS && to - 1 - i >= NEIGHBOURS
  const around = isInside
    ? beside(NEIGHBOURS)
    : i - from < NEIGHBOURS
      ? beside(ONE_SIDED_NEIGHBOURS).slice(0, ONE_SIDED_NEIGHBOURS)
      : beside(ONE_SIDED_NEIGHBOURS).slice(-ONE_SIDED_NEIGHBOURS)
  const both = consensusParabola(around, error)
  if (both && (both.isWhole || !isInside)) return deviationFrom(both.fit, points[i], error)
  const sides = [points.slice(Math.max(from, i - 5), i), points.slice(i + 1, Math.min(to, i + 6))]
    .filter((side) => side.length >= 4)
    .map((side) => consensusParabola(side, error))
    .concat(both)
    .filter((side) => side !== null)
  if (sides.length === 0) return 0
  return Math.min(...sides.map(({ fit }) => deviationFrom(fit, points[i], error)))
}

/** Returns the distance of a mark from a parabola in standard errors, of the mark and of the parabola. */
function deviationFrom(fit: Parabola, { t, x, y }: TimedMark, error: number): number {
  const expected = fit.at(t)
  return Math.hypot(x - expected.x, y - expected.y) / (error * Math.sqrt(1 + expected.variance))
}

/**
 * Returns the parabola that all marks, or all but one, agree on within their error, and whether all do; null if there is none.
 */
function consensusParabola(points: TimedMark[], error: number): { fit: Parabola; isWhole: boolean } | null {
  const n = points.length
  if (n < 4) return null
  const all = parabola(points)
  if (all && chiSquareOf(all, points, error) <= MISFIT * Math.max(2, 2 * (n - 3)))
    return { fit: all, isWhole: true }
  let best: number[] | null = null
  let least = Number.POSITIVE_INFINITY
  for (let a = 0; a < n; a++)
    for (let b = a + 1; b < n; b++)
      for (let c = b + 1; c < n; c++) {
        const fit = parabola([points[a], points[b], points[c]])
        if (!fit) continue
        const off = points.map((point) => deviationFrom(fit, point, error))
        const kth = [...off].sort((p, q) => p - q)[n - 2]
        if (kth >= least) continue
        least = kth
        best = off
      }
  if (!best || least > MAX_DEVIATION) return null
  const kept = points.filter((_, i) => best[i] <= MAX_DEVIATION)
  const fit = parabola(kept)
  const freedom = 2 * (kept.length - 3)
  if (!fit || (freedom > 0 && chiSquareOf(fit, kept, error) > MISFIT * freedom)) return null
  return { fit, isWhole: kept.length === n }
}

/**
 * Returns χ² of marks about a parabola, or about two with the same acceleration where the motion breaks before one of them:
 * what falls before a bounce also falls after it.
 *
 * @param split index of the first mark behind the break; null: no break
 */
function chiSquareWith(points: TimedMark[], split: number | null, error: number): number {
  const start = points[split ?? 0].t
  let reach = 0
  for (const { t } of points) reach = Math.max(reach, Math.abs(t - start))
  // Plain loops: this is called hundreds of times for every edit of a mark.
  const blank = () => new Float64Array(points.length)
  const [x, y, bend] = [blank(), blank(), blank()]
  const before = [blank(), blank()]
  const behind = split === null ? before : [blank(), blank()]
  for (let i = 0; i < points.length; i++) {
    const point = points[i]
    const u = (point.t - start) / reach
    const [even, steep] = split === null || i < split ? before : behind
    even[i] = 1
    steep[i] = u
    bend[i] = u * u
    x[i] = point.x
    y[i] = point.y
  }
  const columns = split === null ? [...before, bend] : [...before, ...behind, bend]
  return residualSumOfSquares(columns, [x, y]) / error ** 2
}

/** Returns by how much a break after the first `count` marks reduces χ². */
function breakGain(points: TimedMark[], count: number, error: number): number {
  return chiSquareWith(points, null, error) - chiSquareWith(points, count, error)
}

/**
 * Returns the indices of marks before which the motion breaks: where a break reduces χ² by far more than is usual in this
 * motion, which may be too fast for parabolas, and also does so without any single mark, which would be an outlier.
 */
function breaksIn(points: TimedMark[], error: number, known: WeakMap<Mark, CachedValue>): number[] {
  if (points.length < LEAST_MARKS_FOR_BREAKS) return []
  const side = Math.min(SIDE.most, Math.max(SIDE.least, Math.round(points.length / 12)))
  const around = (i: number) => points.slice(i - side, i + side)
  const gains = points.map((_, i) =>
    i < side || i + side > points.length
      ? 0
      : cached(known, points, [i - side, i, i + side], error, () => breakGain(around(i), side, error)),
  )
  const inner = gains.slice(side, gains.length - side + 1).sort((a, b) => a - b)
  const limit = Math.max(BREAK.least, BREAK.typical * inner[inner.length >> 2])
  const sure = gains.map((gain, i) => {
    if (gain <= limit) return 0
    const without = around(i).map((_, k, all) =>
      breakGain(
        all.filter((_, other) => other !== k),
        k < side ? side - 1 : side,
        error,
      ),
    )
    return Math.min(...without) > limit ? gain : 0
  })
  return sure.flatMap((gain, i) => {
    const first = Math.max(0, i - side)
    const near = sure.slice(first, i + side + 1)
    if (gain === 0 || near.indexOf(Math.max(...near)) !== i - first) return []
    return [refinedSplit(points, i, side, error)]
  })
}

/**
 * Returns the index near a break with the least χ², searched again around the result until it stays: around a gap, where marks
 * are farther apart in time, the first guess can be biased.
 */
function refinedSplit(points: TimedMark[], first: number, side: number, error: number): number {
  let at = first
  for (let round = 0; round < 4; round++) {
    const next = bestSplit(points, at, side, error)
    if (next === at || next < side || next + side > points.length) return next
    at = next
  }
  return at
}

/** Returns the index near another one with the least χ², all for the same marks. */
function bestSplit(points: TimedMark[], at: number, side: number, error: number): number {
  const from = at - side
  const all = points.slice(from, at + side)
  let [best, least] = [at, Number.POSITIVE_INFINITY]
  const reach = Math.min(4, side - 3)
  for (let split = at - reach; split <= at + reach; split++) {
    const chiSquare = chiSquareWith(all, split - from, error)
    if (chiSquare < least) [best, least] = [split, chiSquare]
  }
  return best
}
