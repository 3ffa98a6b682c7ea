import { type Body, framesOf, type Mark, STRAY_LIMIT } from '../investigation/index.ts'
import { residualSumOfSquares } from '../regression/index.ts'
import { type Known, memoryOf, remembered } from './courseMemory.ts'
import { type Jump, jumpsIn } from './jumps.ts'
import { MISFIT, misfitOf, type Parabola, parabola, type Spot } from './localCourse.ts'
import { markErrorOf, markErrors } from './markError.ts'

/** A mark that lies off the local course of the motion. */
export interface Outlier {
  frame: number
  /** How far off, in standard errors of what is expected there. */
  size: number
}

/** What the course of a body's marks says. */
export interface TrackDiagnosis {
  outliers: Outlier[]
  /**
   * Frames of marks before which the motion seems to change at once, as at a bounce or a collision, and of which
   * nobody has said yet whether it does.
   */
  breaks: number[]
  /** Followed marks that no motion leads to, and of which nobody has said yet that they are right. */
  jumps: Jump[]
}

/** Nobody marks more finely than this, in pixels, and what is followed more finely is not suspicious for a slip of less. */
const FINEST = 0.25
/** Fewer marks than this have no course. */
const FEWEST = 6
/** Marks on either side that tell the course, and on one side where the other has none. */
const BESIDE = 3
const ONE_SIDED = 7
/** A mark beside that is farther from the course than so many of its errors is not used for it. */
const OFF = 3.5
/** Fewer marks than this tell no break from a quick motion. */
const FEWEST_FOR_BREAKS = 16
/** Marks on either side that tell a break. */
const SIDE = { least: 5, most: 12 }
/** How much better two courses must do than one for a break, in squared errors, and against what is usual in this motion. */
const BREAK = { least: 40, usual: 20 }

/** Errors are told in steps of so large a share: each new mark would change all that was worked out otherwise. */
const STEP = 0.02
const inSteps = (error: number) => Math.exp(STEP * Math.round(Math.log(error) / STEP))

/**
 * Marks that lie off the local course of a body's motion: off the parabola through the marks on both sides
 * or, where those have no common one, off that of each side by itself. The parabola is one that most of the
 * marks around agree on (least median of squares over all threes, Rousseeuw, J. American Statistical Association
 * 79 (1984) 871), then least squares through those. Where the sides disagree a mark belongs to one of them, so
 * a bounce is not a row of strays but a break.
 *
 * Marks that somebody has said to be right are none, nor are rests, at which a course ends and another begins, as
 * at the breaks that somebody has accepted.
 *
 * @param seconds real time of every frame
 * @param limit standard errors beyond which a mark is a stray
 */
export function diagnoseTrack(
  body: Body,
  seconds: ArrayLike<number>,
  limit: number = STRAY_LIMIT.usual,
): TrackDiagnosis {
  const all = framesOf(body).filter((frame) => frame < seconds.length)
  const frames = all.filter((frame) => body.marks[frame].until === undefined)
  if (frames.length < FEWEST) return { outliers: [], breaks: [], jumps: [] }
  const errors = markErrors(body)
  const error = inSteps(Math.max(FINEST, markErrorOf(body)))
  const memory = memoryOf(seconds)
  const spots = frames.map((frame): Spot => {
    const mark = body.marks[frame]
    return { t: seconds[frame], x: mark.x, y: mark.y, mark }
  })
  const afterRests = new Set(all.filter((_, i) => i > 0 && body.marks[all[i - 1]].until !== undefined))
  const told = frames.flatMap((frame, i) =>
    afterRests.has(frame) || body.breaks[frame] === 'break' ? [i] : [],
  )
  const denied = frames.flatMap((frame, i) => (body.breaks[frame] === 'none' ? [i] : []))
  const isNear = (i: number) => (other: number) => Math.abs(other - i) <= BESIDE
  const found = breaksIn(spots, error, memory.gains).filter(
    (i) => !told.some(isNear(i)) && !denied.some(isNear(i)),
  )
  const breaks = [...told, ...found].sort((a, b) => a - b)
  const outliers: Outlier[] = []
  let next = 0
  frames.forEach((frame, i) => {
    while (next < breaks.length && breaks[next] <= i) next++
    const from = Math.max(breaks[next - 1] ?? 0, i - ONE_SIDED)
    const to = Math.min(breaks[next] ?? spots.length, i + 1 + ONE_SIDED)
    const own = inSteps(Math.max(FINEST, errors.at(frame)))
    const size = remembered(memory.sizes, spots, [from, i, to], own, () => offCourse(spots, i, own, from, to))
    if (size > limit && !body.marks[frame].right) outliers.push({ frame, size })
  })
  const isOutlier = new Set(outliers.map((outlier) => outlier.frame))
  // A stray is a jump there and one back, and told as what it is.
  const jumps = jumpsIn(spots, error, memory.jumps)
    .filter(({ at }) => spots[at].mark.by === 'follow' && !told.some(isNear(at)) && !denied.some(isNear(at)))
    .filter(({ at }) => !isOutlier.has(frames[at]) && !isOutlier.has(frames[at - 1]))
  // A jump looks like a break, too.
  const isBreak = (i: number) => !jumps.some(({ at }) => isNear(at)(i))
  return {
    outliers,
    breaks: found.filter(isBreak).map((i) => frames[i]),
    jumps: jumps.map(({ at, length }) => ({ frame: frames[at], length })),
  }
}

/**
 * How far a mark is off the course that the others around it tell, in standard errors.
 *
 * @param from the first mark of that course, or of as many as count
 * @param to the mark behind its last one, likewise
 */
function offCourse(spots: Spot[], i: number, error: number, from: number, to: number): number {
  const beside = (count: number) => [
    ...spots.slice(Math.max(from, i - count), i),
    ...spots.slice(i + 1, Math.min(to, i + 1 + count)),
  ]
  const isInside = i - from >= BESIDE && to - 1 - i >= BESIDE
  const around = isInside
    ? beside(BESIDE)
    : i - from < BESIDE
      ? beside(ONE_SIDED).slice(0, ONE_SIDED)
      : beside(ONE_SIDED).slice(-ONE_SIDED)
  const both = agreed(around, error)
  if (both && (both.isWhole || !isInside)) return sizeOf(both.course, spots[i], error)
  const sides = [spots.slice(Math.max(from, i - 5), i), spots.slice(i + 1, Math.min(to, i + 6))]
    .filter((side) => side.length >= 4)
    .map((side) => agreed(side, error))
    .concat(both)
    .filter((side) => side !== null)
  if (sides.length === 0) return 0
  return Math.min(...sides.map(({ course }) => sizeOf(course, spots[i], error)))
}

function sizeOf(course: Parabola, { t, x, y }: Spot, error: number): number {
  const told = course.at(t)
  return Math.hypot(x - told.x, y - told.y) / (error * Math.sqrt(1 + told.variance))
}

/**
 * The parabola that some marks, or all but one of them, agree on within their error, and whether it is all of
 * them; null where they don't.
 */
function agreed(spots: Spot[], error: number): { course: Parabola; isWhole: boolean } | null {
  const n = spots.length
  if (n < 4) return null
  const all = parabola(spots)
  if (all && misfitOf(all, spots, error) <= MISFIT * Math.max(2, 2 * (n - 3)))
    return { course: all, isWhole: true }
  let best: number[] | null = null
  let least = Number.POSITIVE_INFINITY
  for (let a = 0; a < n; a++)
    for (let b = a + 1; b < n; b++)
      for (let c = b + 1; c < n; c++) {
        const course = parabola([spots[a], spots[b], spots[c]])
        if (!course) continue
        const off = spots.map((spot) => sizeOf(course, spot, error))
        const kth = [...off].sort((p, q) => p - q)[n - 2]
        if (kth >= least) continue
        least = kth
        best = off
      }
  if (!best || least > OFF) return null
  const kept = spots.filter((_, i) => best[i] <= OFF)
  const course = parabola(kept)
  const freedom = 2 * (kept.length - 3)
  if (!course || (freedom > 0 && misfitOf(course, kept, error) > MISFIT * freedom)) return null
  return { course, isWhole: kept.length === n }
}

/**
 * Sum of squared distances of marks from their own parabola, in squared errors, or from two that bend alike where the course breaks before one of them: what falls
 * before a bounce falls after it, too, and what goes evenly before a collision does so after it.
 *
 * @param split which of the marks is the first behind the break; null where there is none
 */
function misfit(spots: Spot[], split: number | null, error: number): number {
  const start = spots[split ?? 0].t
  let reach = 0
  for (const { t } of spots) reach = Math.max(reach, Math.abs(t - start))
  // Filled in a plain loop: this is asked for hundreds of times with every edit of a mark.
  const blank = () => new Float64Array(spots.length)
  const [x, y, bend] = [blank(), blank(), blank()]
  const before = [blank(), blank()]
  const behind = split === null ? before : [blank(), blank()]
  for (let i = 0; i < spots.length; i++) {
    const spot = spots[i]
    const u = (spot.t - start) / reach
    const [even, steep] = split === null || i < split ? before : behind
    even[i] = 1
    steep[i] = u
    bend[i] = u * u
    x[i] = spot.x
    y[i] = spot.y
  }
  const columns = split === null ? [...before, bend] : [...before, ...behind, bend]
  return residualSumOfSquares(columns, [x, y]) / error ** 2
}

/** How much better two courses do than one through marks, of which the first `count` lie before the break. */
function gainOf(spots: Spot[], count: number, error: number): number {
  return misfit(spots, null, error) - misfit(spots, count, error)
}

/**
 * Marks before which the course breaks: where two courses that bend alike do far better than one through all,
 * and far better than that is usual in this motion, which may be too quick for any parabola. That has to hold
 * without any one of the marks, too, or it is only a stray.
 */
function breaksIn(spots: Spot[], error: number, known: WeakMap<Mark, Known>): number[] {
  if (spots.length < FEWEST_FOR_BREAKS) return []
  const side = Math.min(SIDE.most, Math.max(SIDE.least, Math.round(spots.length / 12)))
  const around = (i: number) => spots.slice(i - side, i + side)
  const gains = spots.map((_, i) =>
    i < side || i + side > spots.length
      ? 0
      : remembered(known, spots, [i - side, i, i + side], error, () => gainOf(around(i), side, error)),
  )
  const inner = gains.slice(side, gains.length - side + 1).sort((a, b) => a - b)
  const limit = Math.max(BREAK.least, BREAK.usual * inner[inner.length >> 2])
  const sure = gains.map((gain, i) => {
    if (gain <= limit) return 0
    const without = around(i).map((_, k, all) =>
      gainOf(
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
    return [settledSplit(spots, i, side, error)]
  })
}

/**
 * The place near a break at which two courses do best. Around a gap marks lie farther apart in time, which tells more
 * and can draw the first guess away: so it is looked around the place that was found, until it stays.
 */
function settledSplit(spots: Spot[], first: number, side: number, error: number): number {
  let at = first
  for (let round = 0; round < 4; round++) {
    const next = bestSplit(spots, at, side, error)
    if (next === at || next < side || next + side > spots.length) return next
    at = next
  }
  return at
}

/** The place near another at which two courses do best, all told by the same marks. */
function bestSplit(spots: Spot[], at: number, side: number, error: number): number {
  const from = at - side
  const all = spots.slice(from, at + side)
  let [best, least] = [at, Number.POSITIVE_INFINITY]
  const reach = Math.min(4, side - 3)
  for (let split = at - reach; split <= at + reach; split++) {
    const rest = misfit(all, split - from, error)
    if (rest < least) [best, least] = [split, rest]
  }
  return best
}
