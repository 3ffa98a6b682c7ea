import { FitError } from './fitError.ts'
import type { NonlinearFit, NonlinearProblem } from './nonlinearProblem.ts'
import { arrayAllocator, QrFactor } from './qrFactor.ts'
import { dotProduct, subtractScaled, sumOfSquares } from './vectorMath.ts'

/** Most iterations: `work` bounds iterations × n × p, so that a fit ends within about a second. */
const MAX_ITERATIONS = { all: 2000, least: 60, work: 2e7 }
/** Initial damping, relative to the squared column norms of the jacobian (Nielsen 1999). */
const INITIAL_DAMPING = 1e-3
/** Damping beyond which the iteration ends; at a kink this is reached far sooner. */
const MAX_DAMPING = { smooth: 1e20, corner: 1e8 }
/** Least gain ratio (actual over predicted reduction of the sum of squares) of an accepted step. */
const MIN_GAIN_RATIO = 1e-4
/** Gain ratio from which on no geodesic acceleration is used, and the factor by which damping then decreases. */
const GOOD_GAIN_RATIO = 0.95
const DAMPING_DECREASE = 0.03
/** Fraction of a step at which the second directional derivative is probed, and the largest acceleration relative to the step. */
const PROBE_FRACTION = 0.1
const MAX_ACCELERATION = 0.75
/** A predicted reduction below this fraction of the sum of squared residuals, or of squared values, is lost in rounding. */
const ROUNDING_OF_RSS = 1e-11
const ROUNDING_OF_VALUES = 1e-30
/**
 * Convergence: largest norm of the residuals' projection onto the column space of the jacobian, relative to the norm of
 * the rest (Bates and Watts, Technometrics 23 (1981) 179, stop at 1e-3).
 */
const CONVERGED_COSINE = 1e-6
/** The same relative to the norm of the values, for data that the model fits exactly. */
const EXACT_FIT = 1e-12
/**
 * Undamped steps at the end: their number, the factor by which each must reduce the projection, and the projection that is
 * small enough, relative to the residuals (parameters are then exact to that fraction of their errors) or to the values.
 */
const REFINEMENT = { steps: 40, better: 0.9, near: 1e-11, none: 1e-16 }

/** The model evaluated, and where needed linearised, at some parameters. */
class Iterate {
  readonly parameters: Float64Array
  readonly residuals: Float64Array
  readonly jacobian: Float64Array[]
  whitenedResiduals: Float64Array
  whitenedJacobian: readonly Float64Array[]
  rss = 0
  readonly qr: QrFactor
  /** Indices of the parameters that are not at an active bound, linear ones first. */
  free: readonly number[] = []
  /** Norm of each nonlinear parameter's column without its projection onto the linear parameters' columns; length p. */
  readonly columnNorms: Float64Array

  constructor(p: number, n: number) {
    const allocate = arrayAllocator((p + 1) * n + QrFactor.lengthNeeded(p, n))
    this.parameters = new Float64Array(p)
    this.residuals = allocate(n)
    this.jacobian = Array.from({ length: p }, () => allocate(n))
    this.whitenedResiduals = this.residuals
    this.whitenedJacobian = this.jacobian
    this.qr = new QrFactor(p, n, allocate)
    this.columnNorms = new Float64Array(p)
  }
}

/**
 * Minimises ‖y − f(p)‖ by the Levenberg–Marquardt method (Levenberg 1944, Marquardt 1963) with analytical derivatives. Each
 * step solves (JᵀJ + λD²)δ = Jᵀr by QR decomposition of J, where D holds the largest column norms so far (Moré, Lecture
 * Notes in Mathematics 630 (1978) 105) and λ follows the gain ratio (Nielsen, Damping Parameter in Marquardt's Method,
 * 1999). Linear parameters are solved for at the start and after each step with a poor gain ratio, in the spirit of variable
 * projection (Golub and Pereyra, SIAM J. Numer. Anal. 10 (1973) 413). Undamped steps at the end reduce the projection of the
 * residuals onto the column space of J, which gives the last digits after the sum of squares has stopped changing.
 *
 * @throws FitError if it does not converge, or if the parameters are not determined by the points; the message says why
 */
export function fitNonlinear(problem: NonlinearProblem): NonlinearFit {
  if (!problem.linear?.length) return minimised(problem)
  try {
    return minimised(problem)
  } catch (error) {
    if (!(error instanceof FitError)) throw error
    // If the linear parameters are ill-determined at the start, all are better treated as nonlinear.
    return minimised({ ...problem, linear: [] })
  }
}

const minimised = (problem: NonlinearProblem) => new LevenbergMarquardt(problem).minimise()

class LevenbergMarquardt {
  private readonly y: Float64Array
  private readonly n: number
  private readonly p: number
  private readonly effectivePoints: number
  private readonly sumOfSquaredValues: number
  private readonly linear: readonly number[]
  private readonly isLinear: readonly boolean[]
  /** Parameter indices, linear ones first: QR then leaves of the other columns what the linear ones can't compensate. */
  private readonly order: readonly number[]
  /** Model values of the last evaluation. */
  private readonly values: Float64Array
  /** Iterates to be reused: allocating long arrays takes longer than filling them. */
  private readonly pool: Iterate[] = []
  private iterations = 1

  /** @throws FitError if there are too few points, or no parameters */
  constructor(private readonly problem: NonlinearProblem) {
    const { y, start, linear = [], whiten } = problem
    const [n, p] = [y.length, start.length]
    this.y = y instanceof Float64Array ? y : new Float64Array(y)
    this.n = n
    this.p = p
    this.effectivePoints = whiten?.rank ?? n
    if (p === 0) throw new FitError({ code: 'no-parameters' })
    if (this.effectivePoints < p)
      throw new FitError({ code: 'too-few-points', needed: p, points: this.effectivePoints })
    this.sumOfSquaredValues = sumOfSquares(this.y)
    const isLinear = new Array<boolean>(p).fill(false)
    for (const k of linear) isLinear[k] = true
    const order = [...linear]
    for (let k = 0; k < p; k++) if (!isLinear[k]) order.push(k)
    this.linear = linear
    this.isLinear = isLinear
    this.order = order
    this.values = new Float64Array(n)
  }

  /** @throws FitError if it does not converge, or if the parameters are not determined by the points */
  minimise(): NonlinearFit {
    const { parameters, residuals, rss, qr, free } = this.refine(this.iterate())
    const isConverged =
      qr.projectedNorm <= CONVERGED_COSINE * Math.sqrt(qr.residualSquares) ||
      qr.projectedNorm <= EXACT_FIT * Math.sqrt(this.sumOfSquaredValues)
    if (!isConverged && !this.problem.hasCorners) throw new FitError({ code: 'not-converged' })
    return {
      parameters,
      cofactors: qr.cofactors(free, this.p),
      rss,
      residuals: residuals.slice(),
      iterations: this.iterations,
      freedom: this.effectivePoints - free.length,
      atBound: Array.from(parameters, (_, k) => !free.includes(k)),
    }
  }

  /** Takes damped steps until the sum of squares no longer distinguishes them. */
  private iterate(): Iterate {
    const { n, p, isLinear } = this
    const maxIterations = Math.max(
      MAX_ITERATIONS.least,
      Math.min(MAX_ITERATIONS.all, MAX_ITERATIONS.work / (n * p)),
    )
    const maxDamping = MAX_DAMPING[this.problem.hasCorners ? 'corner' : 'smooth']
    const first = new Float64Array(p)
    for (let k = 0; k < p; k++) first[k] = this.clampedToBounds(this.problem.start[k], k)
    const initial = this.evaluateAt(first)
    if (!Number.isFinite(initial.rss)) throw new FitError({ code: 'no-value-at-start' })
    let current = this.linearise(this.withBestLinear(initial))
    const largestNorms = current.columnNorms.slice()
    let growth = 2
    let isCurved = false
    for (let damping = INITIAL_DAMPING; ; ) {
      const { qr, free } = current
      const scales = new Float64Array(free.length)
      for (let i = 0; i < free.length; i++)
        if (!isLinear[free[i]]) scales[i] = Math.sqrt(damping) * (largestNorms[free[i]] || 1)
      const step = qr.solve(scales)
      const predicted = step ? qr.predictedReduction(step) : 0
      if (step && predicted <= ROUNDING_OF_RSS * current.rss + ROUNDING_OF_VALUES * this.sumOfSquaredValues)
        return current
      const candidate =
        step &&
        this.evaluateAt(this.stepped(current, isCurved ? this.accelerated(current, step, scales) : step))
      const gainRatio: number = candidate ? (current.rss - candidate.rss) / predicted : Number.NaN
      if (candidate && gainRatio > MIN_GAIN_RATIO) {
        if (++this.iterations > maxIterations)
          throw new FitError({ code: 'too-many-iterations', iterations: Math.round(maxIterations) })
        this.pool.push(current)
        current = this.linearise(gainRatio < GOOD_GAIN_RATIO ? this.withBestLinear(candidate) : candidate)
        for (let k = 0; k < p; k++) largestNorms[k] = Math.max(largestNorms[k], current.columnNorms[k])
        damping *=
          gainRatio > GOOD_GAIN_RATIO ? DAMPING_DECREASE : Math.max(1 / 3, 1 - (2 * gainRatio - 1) ** 3)
        growth = 2
        isCurved = gainRatio < GOOD_GAIN_RATIO
      } else {
        if (candidate) this.pool.push(candidate)
        if (damping > maxDamping) return current
        isCurved = true
        damping *= growth
        growth *= 2
      }
    }
  }

  /** Takes undamped steps for as long as each reduces the projection of the residuals onto the column space. */
  private refine(from: Iterate): Iterate {
    const isExact = ({ qr: { projectedNorm, residualSquares } }: Iterate) =>
      projectedNorm <= REFINEMENT.near * Math.sqrt(residualSquares) ||
      projectedNorm <= REFINEMENT.none * Math.sqrt(this.sumOfSquaredValues)
    let current = from
    for (let k = 0; k < REFINEMENT.steps && !isExact(current); k++) {
      const step = current.qr.solve(null)
      if (!step) throw new FitError({ code: 'parameters-indistinguishable' })
      const candidate = this.linearise(this.evaluateAt(this.stepped(current, step)))
      if (!(candidate.qr.projectedNorm < REFINEMENT.better * current.qr.projectedNorm)) break
      this.pool.push(current)
      current = candidate
      this.iterations++
    }
    return current
  }

  private clampedToBounds(value: number, k: number): number {
    const { lower, upper } = this.problem
    return Math.min(
      upper?.[k] ?? Number.POSITIVE_INFINITY,
      Math.max(lower?.[k] ?? Number.NEGATIVE_INFINITY, value),
    )
  }

  /** Writes the residuals of the last evaluation, and returns them. */
  private residualsInto(residuals: Float64Array): Float64Array {
    const { y, values } = this
    for (let i = 0; i < residuals.length; i++) residuals[i] = y[i] - values[i]
    return residuals
  }

  /** Evaluates model and jacobian. */
  private evaluateAt(parameters: Float64Array): Iterate {
    const { n, p, values, pool } = this
    const { evaluate, whiten } = this.problem
    const iterate = pool.pop() ?? new Iterate(p, n)
    iterate.parameters.set(parameters)
    for (const column of iterate.jacobian) column.fill(0)
    evaluate(iterate.parameters, values, iterate.jacobian)
    this.residualsInto(iterate.residuals)
    if (whiten) {
      iterate.whitenedResiduals = whiten(iterate.residuals)
      iterate.whitenedJacobian = iterate.jacobian.map(whiten)
    }
    iterate.rss = sumOfSquares(iterate.whitenedResiduals)
    return iterate
  }

  /** Factorises the jacobian, so that steps can be solved for. */
  private linearise(iterate: Iterate): Iterate {
    const { isLinear } = this
    const { whitenedJacobian, whitenedResiduals, qr, columnNorms } = iterate
    const free = this.freeParameters(iterate)
    iterate.free = free
    qr.factorise(whitenedJacobian, whitenedResiduals, free)
    if (!qr.isFinite) throw new FitError({ code: 'overflow' })
    let first = 0
    while (first < free.length && isLinear[free[first]]) first++
    columnNorms.fill(0)
    for (let i = first; i < free.length; i++) columnNorms[free[i]] = qr.columnNormFrom(i, first)
    return iterate
  }

  /** Returns the indices of all parameters that are not at a bound against which the gradient pushes them. */
  private freeParameters({ parameters, whitenedJacobian, whitenedResiduals }: Iterate): readonly number[] {
    const { order } = this
    const { lower, upper } = this.problem
    if (!lower && !upper) return order
    return order.filter((k) => {
      const isLeast = lower && parameters[k] <= lower[k]
      const isMost = upper && parameters[k] >= upper[k]
      if (!isLeast && !isMost) return true
      const descent = dotProduct(whitenedJacobian[k], whitenedResiduals)
      return !((isLeast && descent < 0) || (isMost && descent > 0))
    })
  }

  /** Returns the parameters after a step, within their bounds. */
  private stepped({ parameters, free }: Iterate, step: Float64Array): Float64Array {
    const next = parameters.slice()
    for (let i = 0; i < free.length; i++)
      next[free[i]] = this.clampedToBounds(parameters[free[i]] + step[i], free[i])
    return next
  }

  /**
   * Returns the step with geodesic acceleration (Transtrum and Sethna 2012, arXiv:1201.5885), from a finite difference of the
   * second directional derivative; the step itself if the acceleration is too large.
   */
  private accelerated(
    { parameters, whitenedResiduals, whitenedJacobian, free, qr }: Iterate,
    step: Float64Array,
    scales: Float64Array,
  ) {
    const { evaluate, whiten } = this.problem
    const probe = parameters.slice()
    for (let i = 0; i < free.length; i++) probe[free[i]] += PROBE_FRACTION * step[i]
    evaluate(probe, this.values, null)
    const residuals = this.residualsInto(new Float64Array(this.n))
    const second = whiten ? whiten(residuals) : residuals
    for (let i = 0; i < second.length; i++) second[i] = (second[i] - whitenedResiduals[i]) / PROBE_FRACTION
    for (let i = 0; i < free.length; i++) subtractScaled(second, whitenedJacobian[free[i]], -step[i])
    for (let i = 0; i < second.length; i++) second[i] *= 2 / PROBE_FRACTION
    if (!Number.isFinite(sumOfSquares(second))) return step
    const acceleration = qr.solve(scales, second)
    const size = (of: Float64Array) => Math.sqrt(of.reduce((sum, one, i) => sum + (one * scales[i]) ** 2, 0))
    if (!acceleration || 2 * size(acceleration) > MAX_ACCELERATION * size(step)) return step
    return step.map((one, i) => one + acceleration[i] / 2)
  }

  /** Solves for the linear parameters, if they are determined and that reduces the sum of squares. */
  private withBestLinear(iterate: Iterate): Iterate {
    const { linear, pool } = this
    if (linear.length === 0) return iterate
    const step = iterate.qr.factorise(iterate.whitenedJacobian, iterate.whitenedResiduals, linear).solve(null)
    if (!step) return iterate
    const next = iterate.parameters.slice()
    for (let i = 0; i < linear.length; i++)
      next[linear[i]] = this.clampedToBounds(next[linear[i]] + step[i], linear[i])
    const candidate = this.evaluateAt(next)
    const isBetter = candidate.rss < iterate.rss
    pool.push(isBetter ? iterate : candidate)
    return isBetter ? candidate : iterate
  }
}
