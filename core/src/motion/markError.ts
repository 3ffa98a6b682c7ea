import { meanPlacingError, type Point, USUAL_PLACING } from '../geometry/index.ts'
import { type Body, framesOf, type Investigation } from '../investigation/index.ts'
import { clockOf } from '../scene/index.ts'
import { MAD_TO_DEVIATION, median } from '../time/index.ts'
import { differenceVariance, followedCorrelation } from './markCorrelation.ts'

/** Marks are kept to the quarter pixel that keys move them by. */
const FINEST_ERROR = 0.1

/** Marks on either side that tell the speed. */
const BESIDE = 3
/** As many residuals as this, in each half of the speeds, show whether the error grows with them. */
const FEWEST_FOR_GROWTH = 60
/** Speeds of the faster half are to be so many times those of the slower one, and at least so many pixels a frame. */
const APART = { times: 2, least: 2 }
/** The faster half's error has to be larger by so many of the standard errors of that comparison. */
const SURE = 9

/** Standard error of a body's marks along each direction, in pixels. */
export interface MarkErrors {
  /** At rest. */
  base: number
  /** What each pixel of smear adds, in quadrature: of a streak's length, or of the way from one frame to the next. */
  growth: number
  /** Whether somebody has typed it. */
  typed: boolean
  /** Correlation of the errors of marks in neighbouring frames: 0 if they were marked by hand. */
  correlation: number
  /** At a frame's mark. */
  at(frame: number): number
}

/** The marks of a body in order, as lists. */
interface Listed {
  frames: readonly number[]
  x: Float64Array
  y: Float64Array
  /** How far the body is smeared in each one's picture, in pixels. */
  smears: Float64Array
  /** Runs of marks without a rest or a break between them: the first mark and the number of marks. */
  runs: { first: number; count: number }[]
}

function listed(body: Body): Listed {
  const frames = framesOf(body)
  const [x, y] = [new Float64Array(frames.length), new Float64Array(frames.length)]
  const runs = [{ first: 0, count: 0 }]
  for (let i = 0; i < frames.length; i++) {
    const mark = body.marks[frames[i]]
    x[i] = mark.x
    y[i] = mark.y
    const rests = mark.until !== undefined
    if (rests || body.breaks[frames[i]] === 'break') runs.push({ first: rests ? i + 1 : i, count: 0 })
    if (!rests) runs[runs.length - 1].count++
  }
  const smears = new Float64Array(frames.length)
  for (let i = 0; i < frames.length; i++) {
    const { streak } = body.marks[frames[i]]
    const [from, to] = [Math.max(0, i - BESIDE), Math.min(frames.length - 1, i + BESIDE)]
    if (streak) smears[i] = 2 * Math.hypot(streak.x, streak.y)
    else if (from < to) smears[i] = Math.hypot(x[to] - x[from], y[to] - y[from]) / (frames[to] - frames[from])
  }
  return { frames, x, y, smears, runs }
}

/**
 * Returns how far each so many neighbours are from a polynomial of one degree less than would go through them (their
 * divided difference, scaled so that its variance is that of one mark), along both directions in turn.
 *
 * @returns the sizes, and the mark in the middle of each pair of them
 */
function pseudoResiduals(
  { frames, x, y, runs }: Listed,
  count: number,
): { sizes: Float64Array; marks: Int32Array } {
  const windows = runs.reduce((sum, run) => sum + Math.max(0, run.count - count + 1), 0)
  const sizes = new Float64Array(2 * windows)
  const marks = new Int32Array(windows)
  const weights = new Float64Array(count)
  let window = 0
  for (const run of runs)
    for (let first = run.first; first + count <= run.first + run.count; first++, window++) {
      let square = 0
      for (let k = 0; k < count; k++) {
        let product = 1
        for (let other = 0; other < count; other++)
          if (other !== k) product *= frames[first + k] - frames[first + other]
        weights[k] = 1 / product
        square += weights[k] * weights[k]
      }
      let [alongX, alongY] = [0, 0]
      for (let k = 0; k < count; k++) {
        alongX += weights[k] * x[first + k]
        alongY += weights[k] * y[first + k]
      }
      const size = Math.sqrt(square)
      marks[window] = first + (count >> 1)
      sizes[2 * window] = Math.abs(alongX) / size
      sizes[2 * window + 1] = Math.abs(alongY) / size
    }
  return { sizes, marks }
}

const spreadOf = (sizes: ArrayLike<number>) => MAD_TO_DEVIATION * median(sizes)

/** Kept by the body, which every edit of a mark replaces. */
const known = new WeakMap<Body, MarkErrors>()

/**
 * Returns the standard error of a body's marks: what somebody has typed, or estimated from the marks themselves, robustly, so
 * that neither the motion nor a stray mark counts: from how far each four neighbours are from a parabola. Where
 * the faster half of the marks scatters clearly more than the slower one it grows with the smear. That is judged by
 * each five neighbours and a cubic, which a quick motion is nearer to.
 * The idea of pseudo-residuals is from Gasser, Sroka and Jennen-Steinmetz, Biometrika 73 (1986) 625.
 */
export function markErrors(body: Body): MarkErrors {
  const kept = known.get(body)
  if (kept) return kept
  const marks = listed(body)
  const correlation = isFollowed(body) ? followedCorrelation(marks, marks.runs) : 0
  const errors =
    body.markError === null
      ? estimated(marks, placedError(body), correlation)
      : { base: body.markError, growth: 0, typed: true, correlation, at: () => body.markError! }
  known.set(body, errors)
  return errors
}

/** Root mean square of the errors with which marks were placed by hand, which counts where there are too few to tell. */
function placedError({ marks }: Body): number {
  const byHand = Object.values(marks).filter((mark) => mark.by === 'hand')
  return byHand.length > 0 ? meanPlacingError(byHand) : USUAL_PLACING
}

/** Returns true if most of a body's marks were found by following. */
function isFollowed({ marks }: Body): boolean {
  const all = Object.values(marks)
  return 2 * all.filter(({ by }) => by === 'follow').length > all.length
}

/** Ratio of the errors of marks to the scatter of their differences of some order, if neighbouring errors correlate. */
function correctionFor({ frames }: Listed, order: number, correlation: number): number {
  const steps = frames.slice(1).map((frame, i) => frame - frames[i])
  return 1 / Math.sqrt(differenceVariance(order, correlation ** (median(steps) || 1)))
}

function estimated(marks: Listed, placed: number, correlation: number): MarkErrors {
  const { sizes } = pseudoResiduals(marks, 4)
  const scatter = correctionFor(marks, 3, correlation) * spreadOf(sizes)
  const base = sizes.length < 6 ? placed : Math.max(FINEST_ERROR, scatter)
  return growing(marks, correlation) ?? { base, growth: 0, typed: false, correlation, at: () => base }
}

/** Returns the error that grows with the smear, where the marks show that it does. */
function growing(listed: Listed, correlation: number): MarkErrors | null {
  const { sizes, marks } = pseudoResiduals(listed, 5)
  const smears = new Float64Array(marks.length)
  for (let window = 0; window < marks.length; window++) smears[window] = listed.smears[marks[window]]
  const middle = median(smears)
  const slow = { smears: [] as number[], sizes: [] as number[], typical: 0 }
  const fast = { smears: [] as number[], sizes: [] as number[], typical: 0 }
  for (let window = 0; window < marks.length; window++) {
    const some = smears[window] < middle ? slow : fast
    some.smears.push(smears[window])
    some.sizes.push(sizes[2 * window], sizes[2 * window + 1])
  }
  for (const some of [slow, fast]) some.typical = median(some.smears)
  const half = Math.min(slow.sizes.length, fast.sizes.length)
  if (half < FEWEST_FOR_GROWTH) return null
  if (!(fast.typical > Math.max(APART.least, APART.times * slow.typical))) return null
  const correction = correctionFor(listed, 4, correlation)
  const [least, most] = [slow, fast].map(({ sizes: some }) => correction * spreadOf(some))
  if (!(most > least * (1 + SURE / Math.sqrt(half)))) return null
  const growth = Math.sqrt((most ** 2 - least ** 2) / (fast.typical ** 2 - slow.typical ** 2))
  const atRest = Math.sqrt(Math.max(0, least ** 2 - (growth * slow.typical) ** 2))
  const base = Math.max(FINEST_ERROR, atRest)
  const smearAt = new Map(listed.frames.map((frame, i) => [frame, listed.smears[i]]))
  const at = (frame: number) => Math.hypot(base, growth * (smearAt.get(frame) ?? 0))
  return { base, growth, typed: false, correlation, at }
}

/** Returns the typical standard error of a body's marks, in pixels. */
export function markErrorOf(body: Body): number {
  const { at } = markErrors(body)
  const frames = framesOf(body)
  return frames.length > 0 ? median(frames.map(at)) : at(0)
}

/** Returns the speed of a body in pixels per frame, at a frame between its first and last mark; null beyond them. */
export function speedPerFrame(body: Body): (frame: number) => number | null {
  const frames = framesOf(body)
  const [first] = frames
  const speeds = new Float64Array(frames.length > 1 ? frames.at(-1)! - first + 1 : 0)
  frames.slice(1).forEach((after, i) => {
    const before = frames[i]
    const [a, b] = [body.marks[before], body.marks[after]]
    const speed = Math.hypot(b.x - a.x, b.y - a.y) / (after - before)
    speeds.fill(speed, i === 0 ? 0 : before - first + 1, after - first + 1)
  })
  return (frame) => speeds[frame - first] ?? null
}

/**
 * Returns the velocity of a body in the picture around a frame, in pixels per real second, from the two marks that
 * stand nearest on either side; null where there are not two within the body's marks.
 */
export function pictureVelocity(investigation: Investigation, bodyId: string, frame: number): Point | null {
  const clock = clockOf(investigation)
  const body = investigation.bodies[bodyId]
  if (!clock || !body) return null
  const frames = framesOf(body)
  const before = frames.findLast((at) => at < frame) ?? frames.find((at) => at === frame)
  const after = frames.find((at) => at > frame) ?? frames.find((at) => at === frame)
  if (before === undefined || after === undefined || before === after) return null
  const seconds = clock.seconds[after] - clock.seconds[before]
  const [a, b] = [body.marks[before], body.marks[after]]
  return seconds > 0 ? { x: (b.x - a.x) / seconds, y: (b.y - a.y) / seconds } : null
}
