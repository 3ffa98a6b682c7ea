import { FitError } from './leastSquares.ts'
import { product, squares, takeTimes } from './product.ts'
import { cutter, Triangle } from './triangle.ts'
import type { Whiten } from './whitening.ts'

/**
 * A model as the engine asks for it: writes its value at each point, and how each value changes with each parameter.
 *
 * @param parameters where it is asked for
 * @param values as many as there are points
 * @param slopes for each parameter as many as there are points; null where they are not needed
 */
export type Evaluate = (parameters: Float64Array, values: Float64Array, slopes: Float64Array[] | null) => void

/** What a nonlinear fit is made of. */
export interface NonlinearProblem {
  y: ArrayLike<number>
  evaluate: Evaluate
  start: ArrayLike<number>
  /** Least and greatest values of the parameters; none where left out. */
  lower?: ArrayLike<number>
  upper?: ArrayLike<number>
  /** Parameters that the model is linear in, together. */
  linear?: readonly number[]
  /** Whether the model bends sharply somewhere: the least can then lie where slopes change at once, and no slope is level. */
  hasCorners?: boolean
  /** For values that share marks, or that are not known equally well. */
  whiten?: Whiten
}

/** A nonlinear least-squares fit that has come to rest. */
export interface NonlinearFit {
  parameters: Float64Array
  /** (JᵀJ)⁻¹, to be multiplied by the variance of the values. */
  cofactors: Float64Array[]
  /** Sum of squared residuals, whitened ones where they are. */
  rss: number
  /** Number of points that say something of their own, less parameters that are not held by a bound. */
  freedom: number
  /** Values less the model's, as they are. */
  residuals: Float64Array
  /** How many steps it took. */
  rounds: number
  /** Whether each parameter lies on one of its bounds. */
  atBound: boolean[]
}

/** Steps at most, and of points times parameters that are gone through in them: an answer comes within about a second. */
const MOST_ROUNDS = { all: 2000, least: 60, work: 2e7 }
/** Damping to begin with, as a share of the squared lengths of the columns (Nielsen 1999). */
const FIRST_DAMPING = 1e-3
/** Beyond this no step is short enough; at a corner that is seen far sooner. */
const MOST_DAMPING = { smooth: 1e20, corner: 1e8 }
/** A share of what a step promised that it must hold. */
const HELD = 1e-4
/** A step that holds so much of its promise needs no bending, and the next one so little of the damping. */
const STRAIGHT = 0.95
const LESS = 0.03
/** How much of a step is gone ahead to see how the model bends, and how long the bend may be against the step. */
const LOOK_AHEAD = 0.1
const MOST_BENT = 0.75
/** A gain of so small a share of the sum of squares is lost in rounding: the sum says no more which step is better. */
const LOST = 1e-11
/** What is so small a share of the values' own squares is nothing: they are not known more closely. */
const NOTHING = 1e-30
/**
 * The residuals' part along the slopes, against the rest, from which on it is taken to be the minimum (Bates and
 * Watts, Technometrics 23 (1981) 179, stop at 1e-3), where no more digits can be had.
 */
const SETTLED = 1e-6
/** Where that part is so small a share of the values themselves it is the minimum, too: of values that have no rest. */
const EXACT = 1e-12
/**
 * Steps that look for the last digits, the share by which each must bring the residuals nearer to be worth another, and
 * how near is near enough: parameters are then right to that share of their errors. Of values that have no rest nothing is
 * left to be told where the residuals are this share of the values: what rounding leaves of them.
 */
const LAST = { steps: 40, better: 0.9, near: 1e-11, none: 1e-16 }

/** Where a fit stands, or may stand: the model at some parameters, and what follows from it there. */
class Place {
  readonly at: Float64Array
  /** Values less the model's, and the model's slopes; both once more, whitened where they are. */
  readonly plain: Float64Array
  readonly slopes: Float64Array[]
  rest: Float64Array
  columns: readonly Float64Array[]
  rss = 0
  readonly triangle: Triangle
  /** Parameters that no bound holds, those first that enter linearly, and how long a column each of the others has beside those. */
  free: readonly number[] = []
  readonly lengths: Float64Array

  constructor(p: number, n: number) {
    const cut = cutter((p + 1) * n + Triangle.roomFor(p, n))
    this.at = new Float64Array(p)
    this.plain = cut(n)
    this.slopes = Array.from({ length: p }, () => cut(n))
    this.rest = this.plain
    this.columns = this.slopes
    this.triangle = new Triangle(p, n, cut)
    this.lengths = new Float64Array(p)
  }
}

/**
 * min ‖y − f(p)‖ by Levenberg's and Marquardt's method (Levenberg 1944, Marquardt 1963) on slopes that are exact: each
 * step solves (JᵀJ + λD²)δ = Jᵀr by QR of J, never of JᵀJ, with D the largest lengths that the columns have had (Moré,
 * Lecture Notes in Mathematics 630 (1978) 105), and λ by how well the last step kept its promise (Nielsen, Damping
 * Parameter in Marquardt's Method, 1999). Parameters that enter linearly are put to their best at the start and
 * wherever a step held less than it promised, so that it goes along the valley that variable projection goes along (Golub
 * and Pereyra, SIAM J. Numer. Anal. 10 (1973) 413). At the end undamped steps go on for as long as they bring the residuals
 * nearer to being at right angles to the slopes, which tells the last digits long after the sum of squares has ceased to.
 *
 * @throws FitError where it does not come to rest, or where the points don't tell the parameters apart; the message
 * says why
 */
export function fitNonlinear(problem: NonlinearProblem): NonlinearFit {
  if (!problem.linear?.length) return descended(problem)
  try {
    return descended(problem)
  } catch (error) {
    if (!(error instanceof FitError)) throw error
    // Where what enters linearly is hard to tell at the start, it is better let go along with the rest.
    return descended({ ...problem, linear: [] })
  }
}

const descended = (problem: NonlinearProblem) => new Descent(problem).end()

/** The way from a start to the least sum of squares. */
class Descent {
  private readonly y: Float64Array
  private readonly n: number
  private readonly p: number
  private readonly told: number
  /** Sum of the values' own squares. */
  private readonly whole: number
  private readonly linear: readonly number[]
  private readonly isLinear: readonly boolean[]
  /** What enters linearly comes first: what is left of the other columns is then what it can't make up for. */
  private readonly order: readonly number[]
  private readonly values: Float64Array
  /** Places that are done with serve the next ones: making long lists takes longer than filling them. */
  private readonly idle: Place[] = []
  private rounds = 1

  /** @throws FitError where there are too few points, or no parameters */
  constructor(private readonly problem: NonlinearProblem) {
    const { y, start, linear = [], whiten } = problem
    const [n, p] = [y.length, start.length]
    this.y = y instanceof Float64Array ? y : new Float64Array(y)
    this.n = n
    this.p = p
    this.told = whiten?.independent ?? n
    if (p === 0) throw new FitError('There is no parameter to be found.')
    if (this.told < p)
      throw new FitError(`${p} parameters need at least ${p} points; there are ${this.told}.`)
    this.whole = squares(this.y)
    const isLinear = new Array<boolean>(p).fill(false)
    for (const k of linear) isLinear[k] = true
    const order = [...linear]
    for (let k = 0; k < p; k++) if (!isLinear[k]) order.push(k)
    this.linear = linear
    this.isLinear = isLinear
    this.order = order
    this.values = new Float64Array(n)
  }

  /** @throws FitError where it does not come to rest, or where the points don't tell the parameters apart */
  end(): NonlinearFit {
    const { at, plain, rss, triangle, free } = this.lastDigits(this.descend())
    const isLevel =
      triangle.along <= SETTLED * Math.sqrt(triangle.rest) || triangle.along <= EXACT * Math.sqrt(this.whole)
    if (!isLevel && !this.problem.hasCorners)
      throw new FitError('The fit does not come to rest: no step makes it better.')
    return {
      ...{ parameters: at, cofactors: triangle.cofactors(free, this.p), rss, residuals: plain.slice() },
      rounds: this.rounds,
      freedom: this.told - free.length,
      atBound: Array.from(at, (_, k) => !free.includes(k)),
    }
  }

  /** Damped steps, for as long as the sum of squares tells which are better. */
  private descend(): Place {
    const { n, p, isLinear } = this
    const mostRounds = Math.max(MOST_ROUNDS.least, Math.min(MOST_ROUNDS.all, MOST_ROUNDS.work / (n * p)))
    const mostDamping = MOST_DAMPING[this.problem.hasCorners ? 'corner' : 'smooth']
    const first = new Float64Array(p)
    for (let k = 0; k < p; k++) first[k] = this.clamped(this.problem.start[k], k)
    const begun = this.lookAt(first)
    if (!Number.isFinite(begun.rss)) throw new FitError('The model has no value at the start of the fit.')
    let now = this.standAt(this.projected(begun))
    const longest = now.lengths.slice()
    let growth = 2
    let isCurved = false
    for (let damping = FIRST_DAMPING; ; ) {
      const { triangle, free } = now
      const scales = new Float64Array(free.length)
      for (let i = 0; i < free.length; i++)
        if (!isLinear[free[i]]) scales[i] = Math.sqrt(damping) * (longest[free[i]] || 1)
      const step = triangle.solve(scales)
      const promised = step ? triangle.gainOf(step) : 0
      if (step && promised <= LOST * now.rss + NOTHING * this.whole) return now
      const then = step && this.lookAt(this.moved(now, isCurved ? this.bent(now, step, scales) : step))
      const kept: number = then ? (now.rss - then.rss) / promised : Number.NaN
      if (then && kept > HELD) {
        if (++this.rounds > mostRounds)
          throw new FitError(`The fit has not come to rest within ${Math.round(mostRounds)} steps.`)
        this.idle.push(now)
        now = this.standAt(kept < STRAIGHT ? this.projected(then) : then)
        for (let k = 0; k < p; k++) longest[k] = Math.max(longest[k], now.lengths[k])
        damping *= kept > STRAIGHT ? LESS : Math.max(1 / 3, 1 - (2 * kept - 1) ** 3)
        growth = 2
        isCurved = kept < STRAIGHT
      } else {
        if (then) this.idle.push(then)
        if (damping > mostDamping) return now
        isCurved = true
        damping *= growth
        growth *= 2
      }
    }
  }

  /** Undamped steps, for as long as each brings the residuals nearer to right angles with the slopes. */
  private lastDigits(from: Place): Place {
    const isNear = ({ triangle: { along, rest } }: Place) =>
      along <= LAST.near * Math.sqrt(rest) || along <= LAST.none * Math.sqrt(this.whole)
    let now = from
    for (let k = 0; k < LAST.steps && !isNear(now); k++) {
      const step = now.triangle.solve(null)
      if (!step) throw new FitError('The points do not tell the parameters apart.')
      const then = this.standAt(this.lookAt(this.moved(now, step)))
      if (!(then.triangle.along < LAST.better * now.triangle.along)) break
      this.idle.push(now)
      now = then
      this.rounds++
    }
    return now
  }

  private clamped(value: number, k: number): number {
    const { lower, upper } = this.problem
    return Math.min(
      upper?.[k] ?? Number.POSITIVE_INFINITY,
      Math.max(lower?.[k] ?? Number.NEGATIVE_INFINITY, value),
    )
  }

  private residuals(rest: Float64Array): Float64Array {
    const { y, values } = this
    for (let i = 0; i < rest.length; i++) rest[i] = y[i] - values[i]
    return rest
  }

  /** The model at some parameters. */
  private lookAt(at: Float64Array): Place {
    const { n, p, values, idle } = this
    const { evaluate, whiten } = this.problem
    const place = idle.pop() ?? new Place(p, n)
    place.at.set(at)
    for (const slopes of place.slopes) slopes.fill(0)
    evaluate(place.at, values, place.slopes)
    this.residuals(place.plain)
    if (whiten) {
      place.rest = whiten(place.plain)
      place.columns = place.slopes.map(whiten)
    }
    place.rss = squares(place.rest)
    return place
  }

  /** Makes ready for a step from a place. */
  private standAt(place: Place): Place {
    const { isLinear } = this
    const { columns, rest, triangle, lengths } = place
    const free = this.freeAt(place)
    place.free = free
    triangle.make(columns, rest, free)
    if (!triangle.isFinite) throw new FitError('The model grows beyond all numbers.')
    let first = 0
    while (first < free.length && isLinear[free[first]]) first++
    lengths.fill(0)
    for (let i = first; i < free.length; i++) lengths[free[i]] = triangle.lengthBeyond(i, first)
    return place
  }

  /** All parameters but those whose bound keeps them from where they are drawn to. */
  private freeAt({ at, columns, rest }: Place): readonly number[] {
    const { order } = this
    const { lower, upper } = this.problem
    if (!lower && !upper) return order
    return order.filter((k) => {
      const isLeast = lower && at[k] <= lower[k]
      const isMost = upper && at[k] >= upper[k]
      if (!isLeast && !isMost) return true
      const pull = product(columns[k], rest)
      return !((isLeast && pull < 0) || (isMost && pull > 0))
    })
  }

  /** Where a step leads. */
  private moved({ at, free }: Place, step: Float64Array): Float64Array {
    const next = at.slice()
    for (let i = 0; i < free.length; i++) next[free[i]] = this.clamped(at[free[i]] + step[i], free[i])
    return next
  }

  /**
   * A step bent the way the valley bends (geodesic acceleration: Transtrum and Sethna 2012, arXiv:1201.5885): by the
   * second derivative along it, from one more look at the model. The step itself where that would lead too far.
   */
  private bent({ at, rest, columns, free, triangle }: Place, step: Float64Array, scales: Float64Array) {
    const { evaluate, whiten } = this.problem
    const ahead = at.slice()
    for (let i = 0; i < free.length; i++) ahead[free[i]] += LOOK_AHEAD * step[i]
    evaluate(ahead, this.values, null)
    const plain = this.residuals(new Float64Array(this.n))
    const bend = whiten ? whiten(plain) : plain
    for (let i = 0; i < bend.length; i++) bend[i] = (bend[i] - rest[i]) / LOOK_AHEAD
    for (let i = 0; i < free.length; i++) takeTimes(bend, columns[free[i]], -step[i])
    for (let i = 0; i < bend.length; i++) bend[i] *= 2 / LOOK_AHEAD
    if (!Number.isFinite(squares(bend))) return step
    const more = triangle.solve(scales, bend)
    const size = (of: Float64Array) => Math.sqrt(of.reduce((sum, one, i) => sum + (one * scales[i]) ** 2, 0))
    if (!more || 2 * size(more) > MOST_BENT * size(step)) return step
    return step.map((one, i) => one + more[i] / 2)
  }

  /** Puts what enters linearly to its best, where that can be told and makes it better. */
  private projected(place: Place): Place {
    const { linear, idle } = this
    if (linear.length === 0) return place
    const step = place.triangle.make(place.columns, place.rest, linear).solve(null)
    if (!step) return place
    const next = place.at.slice()
    for (let i = 0; i < linear.length; i++)
      next[linear[i]] = this.clamped(next[linear[i]] + step[i], linear[i])
    const then = this.lookAt(next)
    const isBetter = then.rss < place.rss
    idle.push(isBetter ? place : then)
    return isBetter ? then : place
  }
}

/**
 * Parameters that a model is linear in, together: the slope by each of them stays the same when any of them changes.
 *
 * @param n number of points
 */
export function linearParameters(evaluate: Evaluate, at: ArrayLike<number>, n: number): number[] {
  const p = at.length
  const slopesAt = (parameters: Float64Array) => {
    const slopes = Array.from({ length: p }, () => new Float64Array(n))
    evaluate(parameters, new Float64Array(n), slopes)
    return slopes
  }
  const before = slopesAt(Float64Array.from(at))
  const after = Array.from({ length: p }, (_, k) => {
    const changed = Float64Array.from(at)
    changed[k] = 1.37 * changed[k] + 0.61
    return slopesAt(changed)
  })
  const isSame = (a: Float64Array, b: Float64Array) => {
    const size = Math.sqrt(squares(a))
    return a.every((value, i) => Math.abs(value - b[i]) <= 1e-12 * size)
  }
  const found: number[] = []
  for (let k = 0; k < p; k++)
    if ([...found, k].every((j) => isSame(before[k], after[j][k]) && isSame(before[j], after[k][j])))
      found.push(k)
  return found
}
