import { MAD_TO_DEVIATION, median } from '../time/index.ts'
import { FitError } from './leastSquares.ts'
import { fitNonlinear, type NonlinearFit, type NonlinearProblem } from './nonlinear.ts'
import { QrFactor } from './qrFactor.ts'
import { sumOfSquares } from './vectorMath.ts'

/** How far residuals that are too large are kept from drawing the fit: less and less, or not at all. */
export type Robustness = 'huber' | 'bisquare'

/** A fit in which points that lie far off count for less. */
export interface RobustFit extends NonlinearFit {
  /** What the cofactors are to be multiplied by. */
  variance: number
  /** What each point counts for: 1 as any other, 0 not at all. */
  weights: Float64Array
}

/** ψ(u)/u and ψ′(u) of residuals in deviations, with the limits at which both are 95 % efficient on normal noise. */
const KINDS: Record<Robustness, { weight: (u: number) => number; slope: (u: number) => number }> = {
  huber: {
    weight: (u) => Math.min(1, 1.345 / Math.abs(u)),
    slope: (u) => (Math.abs(u) < 1.345 ? 1 : 0),
  },
  bisquare: {
    weight: (u) => (Math.abs(u) < 4.685 ? (1 - (u / 4.685) ** 2) ** 2 : 0),
    slope: (u) => {
      const square = (u / 4.685) ** 2
      return square < 1 ? (1 - square) * (1 - 5 * square) : 0
    },
  },
}
const MOST_ROUNDS = 200
/** Rounds in which the deviation is told anew; from then on it stays, so that the weights come to rest. */
const TOLD = 10
/** Changes of all weights below this end it. */
const SETTLED = 1e-8

/**
 * A nonlinear fit that points far off don't spoil: least squares again and again, each point weighed by how far it lay
 * off before (Holland and Welsch, Commun. Statist. A 6 (1977) 813), Huber's way or, from there, by Tukey's bisquare. The
 * deviation is told by the median of the residuals' sizes, without as many of the smallest as there are parameters. The
 * variance is Huber's (Robust Statistics, 1981, section 7.6).
 *
 * @throws FitError as a fit without weights does, and where it does not settle
 */
export function fitRobust(problem: NonlinearProblem, kind: Robustness): RobustFit {
  const { y, start, whiten, evaluate } = problem
  const n = y.length
  const p = start.length
  let fit: NonlinearFit = kind === 'huber' ? fitNonlinear(problem) : fitRobust(problem, 'huber')
  const white = (values: Float64Array) => (whiten ? whiten(values) : values)
  let weights = new Float64Array(n).fill(1)
  const deviationOf = ({ residuals }: NonlinearFit) =>
    MAD_TO_DEVIATION * median(white(residuals).map(Math.abs).sort().subarray(p))
  let deviation = deviationOf(fit)
  const offOf = ({ residuals }: NonlinearFit) =>
    white(residuals).map((one) => (deviation > 0 ? one / deviation : 0))
  for (let round = 0; ; round++) {
    if (round < TOLD) deviation = deviationOf(fit)
    const next = offOf(fit).map(KINDS[kind].weight)
    const change = next.reduce((most, weight, i) => Math.max(most, Math.abs(weight - weights[i])), 0)
    weights = next
    if (round > 0 && change < SETTLED) break
    if (round === MOST_ROUNDS) throw new FitError('Which points to leave aside does not settle.')
    const roots = weights.map(Math.sqrt)
    const weighed = (values: Float64Array) => white(values).map((value, i) => roots[i] * value)
    const transposed = (values: Float64Array) => {
      const own = values.map((value, i) => roots[i] * value)
      return whiten ? whiten.transposed(own) : own
    }
    fit = fitNonlinear({
      ...problem,
      start: fit.parameters,
      whiten: Object.assign(weighed, { rank: whiten?.rank ?? n, transposed }),
    })
  }

  const slopes = Array.from({ length: p }, () => new Float64Array(n))
  evaluate(fit.parameters, new Float64Array(n), slopes)
  const free = Array.from({ length: p }, (_, k) => k).filter((k) => !fit.atBound[k])
  const rest = white(fit.residuals)
  const cofactors = new QrFactor(p, n).factorise(slopes.map(white), rest, free).cofactors(free, p)
  const off = offOf(fit)
  const { weight, slope } = KINDS[kind]
  const pulls = off.reduce((sum, u) => sum + (u * weight(u)) ** 2, 0)
  const steepness = off.reduce((sum, u) => sum + slope(u), 0) / n
  const uneven = off.reduce((sum, u) => sum + (slope(u) - steepness) ** 2, 0) / n
  const correction = 1 + (free.length / n) * (uneven / steepness ** 2)
  const variance = (correction ** 2 * deviation ** 2 * (pulls / Math.max(1, fit.freedom))) / steepness ** 2
  return { ...fit, cofactors, variance, weights, rss: sumOfSquares(rest) }
}
