import type { Point } from '../geometry/index.ts'
import { type Body, framesOf, type Investigation } from '../investigation/index.ts'
import { MAD_TO_DEVIATION, median } from '../time/index.ts'
import { clockOf } from './clockOf.ts'

/** What a careful hand misses the same spot by, in pixels, as long as there are too few marks to tell. */
const USUAL_ERROR = 0.5
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
  /** At a frame's mark. */
  at(frame: number): number
}

/** Marks that follow on each other in one course: no rest and no break between them. */
function courses(body: Body): number[][] {
  const courses: number[][] = [[]]
  for (const frame of framesOf(body)) {
    const rests = body.marks[frame].until !== undefined
    if (rests || body.breaks[frame] === 'break') courses.push([])
    if (!rests) courses.at(-1)!.push(frame)
  }
  return courses
}

/**
 * How far each so many neighbours are from a polynomial of one degree less than would go through them (their
 * divided difference, scaled so that its variance is that of one mark), along both directions, with the frame in
 * their middle.
 */
function pseudoResiduals(body: Body, count: number): { frame: number; size: number }[] {
  const residuals: { frame: number; size: number }[] = []
  const weights = new Float64Array(count)
  for (const frames of courses(body))
    for (let first = 0; first + count <= frames.length; first++) {
      let square = 0
      for (let k = 0; k < count; k++) {
        let product = 1
        for (let other = 0; other < count; other++)
          if (other !== k) product /= frames[first + k] - frames[first + other]
        weights[k] = product
        square += product * product
      }
      let [x, y] = [0, 0]
      for (let k = 0; k < count; k++) {
        const mark = body.marks[frames[first + k]]
        x += weights[k] * mark.x
        y += weights[k] * mark.y
      }
      const frame = frames[first + (count >> 1)]
      const size = Math.sqrt(square)
      residuals.push({ frame, size: Math.abs(x) / size }, { frame, size: Math.abs(y) / size })
    }
  return residuals
}

const spreadOf = (residuals: { size: number }[]) =>
  MAD_TO_DEVIATION * median(residuals.map(({ size }) => size))

/** Kept by the body, which every edit of a mark replaces. */
const known = new WeakMap<Body, MarkErrors>()

/**
 * Standard error of a body's marks: what somebody has typed, or estimated from the marks themselves, robustly, so
 * that neither the motion nor a stray mark counts: from how far each four neighbours are from a parabola. Where
 * the faster half of the marks scatters clearly more than the slower one it grows with the smear. That is judged by
 * each five neighbours and a cubic, which a quick motion is nearer to.
 * The idea of pseudo-residuals is from Gasser, Sroka and Jennen-Steinmetz, Biometrika 73 (1986) 625.
 */
export function markErrors(body: Body): MarkErrors {
  const kept = known.get(body)
  if (kept) return kept
  const found = body.markError === null ? estimated(body) : { base: body.markError, growth: 0, typed: true }
  const smear = smearOf(body)
  const errors = {
    ...found,
    at: (frame: number) =>
      found.growth > 0 ? Math.sqrt(found.base ** 2 + (found.growth * smear(frame)) ** 2) : found.base,
  }
  known.set(body, errors)
  return errors
}

function estimated(body: Body): Omit<MarkErrors, 'at'> {
  const residuals = pseudoResiduals(body, 4)
  if (residuals.length < 6) return { base: USUAL_ERROR, growth: 0, typed: false }
  const base = Math.max(FINEST_ERROR, spreadOf(residuals))
  return growing(body) ?? { base, growth: 0, typed: false }
}

/** The error that grows with the smear, where the marks show that it does. */
function growing(body: Body): Omit<MarkErrors, 'at'> | null {
  const smear = smearOf(body)
  const residuals = pseudoResiduals(body, 5)
    .map(({ frame, size }) => ({ size, smear: smear(frame) }))
    .sort((a, b) => a.smear - b.smear)
  const half = residuals.length >> 1
  if (half < FEWEST_FOR_GROWTH) return null
  const slow = residuals.slice(0, half)
  const fast = residuals.slice(half)
  const usual = (some: { smear: number }[]) => median(some.map((one) => one.smear))
  if (!(usual(fast) > Math.max(APART.least, APART.times * usual(slow)))) return null
  const [least, most] = [spreadOf(slow), spreadOf(fast)]
  if (!(most > least * (1 + SURE / Math.sqrt(half)))) return null
  const growth = Math.sqrt((most ** 2 - least ** 2) / (usual(fast) ** 2 - usual(slow) ** 2))
  const atRest = Math.sqrt(Math.max(0, least ** 2 - (growth * usual(slow)) ** 2))
  return { base: Math.max(FINEST_ERROR, atRest), growth, typed: false }
}

/**
 * How far a body is smeared in a frame's picture, in pixels: its streak's length, or its way from one frame to the
 * next, over some marks on either side so that the marks' own errors are no speed.
 */
function smearOf(body: Body): (frame: number) => number {
  const frames = framesOf(body)
  const ways = new Map(
    frames.map((frame, i) => {
      const [from, to] = [frames[Math.max(0, i - BESIDE)], frames[Math.min(frames.length - 1, i + BESIDE)]]
      const [a, b] = [body.marks[from], body.marks[to]]
      return [frame, from === to ? 0 : Math.hypot(b.x - a.x, b.y - a.y) / (to - from)]
    }),
  )
  return (frame) => {
    const streak = body.marks[frame]?.streak
    return streak ? 2 * Math.hypot(streak.x, streak.y) : (ways.get(frame) ?? 0)
  }
}

/** Standard error of a body's marks where it is neither fast nor slow, in pixels. */
export function markErrorOf(body: Body): number {
  const { at } = markErrors(body)
  const frames = framesOf(body)
  return frames.length > 0 ? median(frames.map(at)) : at(0)
}

/**
 * How far a body moves from one frame to the next, in pixels, around any frame between its first and
 * last mark; null beyond them.
 */
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
 * Velocity of a body in the picture around a frame, in pixels per real second, from the two marks that
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
