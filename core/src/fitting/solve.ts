import type { RobustId } from '../investigation/index.ts'
import {
  dotProduct,
  type Evaluate,
  FitError,
  fitNonlinear,
  fitRobust,
  type NonlinearFit,
  type NonlinearProblem,
} from '../regression/index.ts'
import { carriedThrough } from './carried.ts'
import { driftFactor } from './driftFactor.ts'
import { heldLaw } from './held.ts'
import type { Beginning, Law } from './models/index.ts'
import { scattered } from './models/starts.ts'
import type { FitSample } from './sample.ts'
import { type Member, stackedEvaluate, stackedLinear, stackedWhiten } from './stacked.ts'

/** One of the laws of a fit, as it came out. */
export interface SolvedMember extends Member {
  /** Where its own parameters stand among all. */
  indices: number[]
  /** What its own parameters' places count from. */
  zero: number
  /** Values less the law's. */
  residuals: Float64Array
  /** The law at any places, for all parameters of the fit. */
  valuesAt(parameters: ArrayLike<number>, places: ArrayLike<number>): Float64Array
  /** The parameters as people know them. */
  shown(parameters: ArrayLike<number>): number[]
}

/** A fit of one law, or of several with parameters in common. */
export interface Solved {
  parameters: Float64Array
  covariance: Float64Array[]
  /** Points, how many of them say something of their own, and those less what is found. */
  points: number
  told: number
  freedom: number
  /** Sum of squared residuals, in standard errors where these are known. */
  rss: number
  /** Times by which a slow drift of the marks makes the variance of the parameters larger; 1 where there is none. */
  inflation: number
  /** That over the degrees of freedom, where the points' errors are known. */
  reducedChiSquare: number | null
  /** Residuals in standard errors, freed of what neighbouring points share. */
  white: Float64Array
  /** What each point counts for in a robust fit; null in any other. */
  weights: Float64Array | null
  members: SolvedMember[]
  /**
   * What the value of each point, of each member in turn, counts for in a weighed sum of the parameters; and by how much
   * the points scatter more than their errors make likely.
   */
  pulledBy(weights: ArrayLike<number>): Float64Array[]
  widened: number
  /** How far the parameters move where the values of each member move by so much. */
  movedBy(changes: readonly Float64Array[]): Float64Array
}

/** What is asked of a fit beside its laws. */
export interface Wanted {
  robust: RobustId
  /** For each member, parameters that are held, by their place among the shown ones. */
  held: readonly ReadonlyMap<number, number>[]
  /** Places, in each member, of parameters that all have in common. */
  shared: readonly (readonly number[])[]
}

/**
 * Fits one law, or several together. A derived column's law goes through the same linear map as the marks did, and the
 * points are freed of what they share and weighed by their errors.
 *
 * @throws FitError where the points can't carry it; the message says why
 */
export function solve(members: readonly Member[], { robust, held, shared }: Wanted): Solved {
  const isPlain = members.length === 1 && held[0].size === 0
  if (isPlain) return solved(members, robust, [])
  // Each by itself first: what it finds is where all begin, in the parameters that people know.
  const inShown = members.map((member, m): Member => {
    const { parameters, members: alone } = solved([member], robust, [])
    return { ...member, law: heldLaw(member.law, held[m], alone[0].shown(parameters)) }
  })
  // Held parameters are none of the engine's: those in common are counted without them.
  const places = shared.map((common) =>
    common.map((k, m) => k - [...held[m].keys()].filter((one) => one < k).length),
  )
  return solved(inShown, robust, places)
}

function solved(
  members: readonly Member[],
  robust: RobustId,
  shared: readonly (readonly number[])[],
): Solved {
  for (const { law, sample } of members) mustCarry(law, sample)
  const zeros = members.map(({ law, sample }) => law.zero ?? middleOf(sample.places))
  const begun = members.map(({ law, sample }, m) => {
    const begin = law.begin(
      sample.places.map((place) => place - zeros[m]),
      sample.values,
    )
    return members.length === 1 && sample.values.length > MANY
      ? coarsely(begin, law, sample, zeros[m])
      : begin
  })
  if (begun.some(({ starts }) => starts.length === 0))
    throw new FitError('No start is found from which it could be fitted: the points look nothing like it.')

  // Where each member's parameters stand among all.
  let count = 0
  const indices = begun.map(({ starts: [start] }, m) =>
    start.map((_, k) => {
      const common = shared.find((one) => one[m] === k)
      return common && m > 0 ? common[0] : count++
    }),
  )
  const sizes = members.map(({ sample }) => sample.values.length)
  const offsets = sizes.map((_, m) => sizes.slice(0, m).reduce((sum, size) => sum + size, 0))
  const points = sizes.reduce((sum, size) => sum + size, 0)
  const evaluates = members.map(({ law, sample }, m) => evaluateOf(law, sample, zeros[m]))
  const evaluate = stackedEvaluate(evaluates, indices, offsets, sizes)
  const y = new Float64Array(points)
  members.forEach(({ sample }, m) => {
    y.set(sample.values, offsets[m])
  })
  const whiten = stackedWhiten(members, offsets, sizes, points)

  const spread = (own: readonly (readonly number[])[], blank: number) => {
    const all = new Array<number>(count).fill(blank)
    indices.forEach((places, m) => {
      places.forEach((place, k) => {
        all[place] = own[m][k] ?? blank
      })
    })
    return all
  }
  const linear = members.length === 1 ? members[0].law.linear : stackedLinear(members, indices)
  const problem: Omit<NonlinearProblem, 'start'> = {
    ...{ y, evaluate, linear },
    hasCorners: members.some(({ law }) => law.hasCorners),
    ...(whiten && { whiten }),
    ...(begun.some(({ lower }) => lower) && {
      lower: spread(
        begun.map(({ lower = [] }) => lower),
        Number.NEGATIVE_INFINITY,
      ),
    }),
    ...(begun.some(({ upper }) => upper) && {
      upper: spread(
        begun.map(({ upper = [] }) => upper),
        Number.POSITIVE_INFINITY,
      ),
    }),
  }
  const starts =
    members.length === 1
      ? begun[0].starts
      : [
          spread(
            begun.map(({ starts: [start] }) => start),
            0,
          ),
        ]
  const { fit, weights, variance: robustVariance } = bestFit(problem, starts, robust)
  members.forEach(({ law, sample }, m) => {
    law.check?.(
      Float64Array.from(indices[m], (place) => fit.parameters[place]),
      sample.places.map((place) => place - zeros[m]),
    )
    const bound = indices[m].findIndex((place) => fit.atBound[place])
    if (bound >= 0)
      throw new FitError(`Undetermined: these points do not tell the ${law.parameters[bound].name}.`)
  })

  const roots = weights?.map(Math.sqrt)
  const white = (values: Float64Array) => {
    const one = whiten ? whiten(values) : values.slice()
    if (roots) for (let i = 0; i < one.length; i++) one[i] *= roots[i]
    return one
  }
  const slopes = Array.from({ length: count }, () => new Float64Array(points))
  evaluate(fit.parameters, new Float64Array(points), slopes)
  const whiteSlopes = slopes.map(white)
  const told = whiten?.rank ?? points
  const weighed = (values: Float64Array) => (roots ? values.map((value, i) => value * roots[i]) : values)
  const drift = driftFactor(
    members.map(({ sample: { drift, errors, frames } }, m) => ({
      ...{ drift, errors, frames },
      residuals: weighed(fit.residuals).subarray(offsets[m], offsets[m] + sizes[m]),
      slopes: slopes.map((slope) => weighed(slope).subarray(offsets[m], offsets[m] + sizes[m])),
    })),
  )
  const variance = drift * (robustVariance ?? (fit.freedom > 0 ? fit.rss / fit.freedom : Number.NaN))
  const movedBy = (changes: readonly Float64Array[]) => {
    const all = new Float64Array(points)
    changes.forEach((change, m) => {
      all.set(change, offsets[m])
    })
    const changed = white(all)
    const along = Float64Array.from(whiteSlopes, (slope) => dotProduct(slope, changed))
    return Float64Array.from(fit.cofactors, (row) => dotProduct(row, along))
  }
  const pulledBy = (weights: ArrayLike<number>) => {
    const onWhite = new Float64Array(points)
    fit.cofactors.forEach((_, k) => {
      const by = fit.cofactors.reduce((sum, row, j) => sum + weights[j] * row[k], 0)
      if (by !== 0) for (let i = 0; i < points; i++) onWhite[i] += by * whiteSlopes[k][i]
    })
    if (roots) for (let i = 0; i < points; i++) onWhite[i] *= roots[i]
    const all = whiten ? whiten.transposed(onWhite) : onWhite
    return sizes.map((size, m) => all.slice(offsets[m], offsets[m] + size))
  }
  const [smoothed] = members.flatMap(({ sample }) => sample.smoothed ?? [])
  const isKnown = members.every(({ sample }) => sample.whiten && sample.errors.every((error) => error > 0))
  return {
    parameters: fit.parameters,
    covariance:
      smoothed && members.length === 1
        ? smoothedCovariance(fit, slopes, smoothed)
        : fit.cofactors.map((row) => row.map((one) => one * variance)),
    ...{
      points,
      told,
      freedom: smoothed ? smoothed.freedom : fit.freedom,
      rss: fit.rss,
      inflation: drift,
      weights,
      movedBy,
      pulledBy,
    },
    widened: isKnown && Number.isFinite(variance) ? Math.sqrt(variance) : 1,
    reducedChiSquare: isKnown && fit.freedom > 0 ? fit.rss / fit.freedom : null,
    white: white(fit.residuals),
    members: members.map((member, m) => {
      const { law } = member
      const ownOf = (parameters: ArrayLike<number>) => indices[m].map((place) => parameters[place])
      return {
        ...{ ...member, indices: indices[m], zero: zeros[m] },
        residuals: fit.residuals.slice(offsets[m], offsets[m] + sizes[m]),
        valuesAt: (parameters, places) => {
          const values = new Float64Array(places.length)
          const from = Float64Array.from(places, (place) => place - zeros[m])
          law.on(from)(Float64Array.from(ownOf(parameters)), values, null)
          return values
        },
        shown: (parameters) => law.shown(ownOf(parameters), zeros[m]),
      }
    }),
  }
}

/** From so many points on a fit begins where one to a part of them has come to rest. */
const MANY = 4000
const COARSE = 1200

/** Where a fit of many points begins: where it comes to rest on a part of them, from whatever start is best there. */
function coarsely(begin: Beginning, law: Law, { places, values }: FitSample, zero: number): Beginning {
  const some = scattered(places, values, COARSE)
  // Whether all points determine it can't be told by a part of them.
  const coarse: Law = { ...law, zero, begin: () => begin, check: () => {} }
  const { parameters } = solvePoints(coarse, some.places, some.values)
  return { ...begin, starts: [[...parameters]] }
}

/** @throws FitError where the points are too few, or not numbers */
function mustCarry(law: Law, { places, values }: FitSample): void {
  for (let i = 0; i < values.length; i++)
    if (!Number.isFinite(places[i]) || !Number.isFinite(values[i]))
      throw new FitError(`Point ${i + 1} is not a number.`)
  const [n, p] = [values.length, law.linear.length > 0 ? law.parameters.length : 1]
  if (!areApart(places, p)) {
    const least = p === 1 ? 'one point' : `${p} points at different times`
    throw new FitError(`This fit needs at least ${least}; there ${n === 1 ? 'is' : 'are'} ${n}.`)
  }
}

/** Whether so many of some places differ from each other. */
function areApart(places: Float64Array, count: number): boolean {
  const seen = new Set<number>()
  for (let i = 0; i < places.length && seen.size < count; i++) seen.add(places[i])
  return seen.size >= count
}

const middleOf = (places: Float64Array) => places[0] + (places[places.length - 1] - places[0]) / 2

function evaluateOf(law: Law, { places, carried }: FitSample, zero: number): Evaluate {
  const from = (all: Float64Array) => all.map((place) => place - zero)
  return carried
    ? carriedThrough(law.on, from(carried.times), carried.map, carried.order)
    : law.on(from(places))
}

interface Found {
  fit: NonlinearFit
  weights: Float64Array | null
  variance: number | null
}

/** The best of what is found from several starts; the first one's trouble where none comes to rest. */
function bestFit(
  problem: Omit<NonlinearProblem, 'start'>,
  starts: readonly (readonly number[])[],
  robust: RobustId,
): Found {
  let best: NonlinearFit | null = null
  let trouble: FitError | null = null
  for (const start of starts) {
    try {
      const fit = fitNonlinear({ ...problem, start })
      if (!best || fit.rss < best.rss) best = fit
    } catch (error) {
      if (!(error instanceof FitError)) throw error
      trouble ??= error
    }
  }
  if (!best) throw trouble ?? new FitError('No start is found from which it could be fitted.')
  if (robust === 'none') return { fit: best, weights: null, variance: null }
  const fit = fitRobust({ ...problem, start: best.parameters }, robust)
  return { fit, weights: fit.weights, variance: fit.variance }
}

/**
 * Covariance of a fit to values that have next to no freedom of their own left, as a smooth curve's: what the positions'
 * scatter, told by the curve, makes of it through their map.
 */
function smoothedCovariance(
  { cofactors }: NonlinearFit,
  slopes: readonly Float64Array[],
  { map, variance }: NonNullable<FitSample['smoothed']>,
): Float64Array[] {
  const count = map.start.reduce(
    (most, start, row) => Math.max(most, start + map.coefficients[row].length),
    0,
  )
  const onMarks = cofactors.map((row) => {
    const moved = new Float64Array(count)
    map.start.forEach((start, i) => {
      let by = 0
      for (let k = 0; k < row.length; k++) by += row[k] * slopes[k][i]
      map.coefficients[i].forEach((coefficient, at) => {
        moved[start + at] += by * coefficient
      })
    })
    return moved
  })
  return onMarks.map((a) => Float64Array.from(onMarks, (b) => variance * dotProduct(a, b)))
}

/** Independent points, equally well known, that come from no table. */
function plainSample(places: Float64Array, values: Float64Array): FitSample {
  const count = Array.from(places, (_, i) => i)
  return {
    ...{
      rows: count,
      frames: count,
      places,
      values,
      breaks: [],
      carried: null,
      whiten: null,
      smoothed: null,
      drift: null,
    },
    ...{ errors: values.map(() => Number.NaN), shifts: [], sensitivity: () => {} },
  }
}

/** Fits a law to plain numbers. Throws a FitError where they can't carry it. */
export function solvePoints(law: Law, places: Float64Array, values: Float64Array): Solved {
  return solve([{ law, sample: plainSample(places, values) }], {
    robust: 'none',
    held: [new Map()],
    shared: [],
  })
}
