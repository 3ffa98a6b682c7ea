import type { RobustId } from '../investigation/index.ts'
import { FitError, fitNonlinear, fitRobust, type NonlinearFit } from '../regression/index.ts'
import { assemble, type FitAssembly } from './fitAssembly.ts'
import { type FitSolution, type Minimum, summarise } from './fitSolution.ts'
import { withFixedParameters } from './fixedParameters.ts'
import type { Beginning, Law } from './models/index.ts'
import { scattered } from './models/starts.ts'
import type { FitSample } from './sample.ts'
import type { Member } from './stacked.ts'

/** Options of a fit. */
export interface SolveOptions {
  robust: RobustId
  /** For each member the values of its fixed parameters, by their index among the shown ones. */
  fixed: readonly ReadonlyMap<number, number>[]
  /** For each parameter that all members share its index in each of them. */
  shared: readonly (readonly number[])[]
}

/**
 * Fits one law, or several together, by generalised least squares. The law of a derived column goes through the same linear
 * map as the marks.
 *
 * @throws FitError if the points do not determine the fit; the message says why
 */
export function solve(members: readonly Member[], { robust, fixed, shared }: SolveOptions): FitSolution {
  const isPlain = members.length === 1 && fixed[0].size === 0
  if (isPlain) return minimise(members, robust, [])
  // Fixed and shared parameters are those that people know: each member is first fitted by itself, to start from there.
  const inShown = members.map((member, m): Member => {
    const { parameters, members: alone } = minimise([member], robust, [])
    return { ...member, law: withFixedParameters(member.law, fixed[m], alone[0].shownParameters(parameters)) }
  })
  const indices = shared.map((common) =>
    common.map((k, m) => k - [...fixed[m].keys()].filter((one) => one < k).length),
  )
  return minimise(inShown, robust, indices)
}

/**
 * Fits a law to plain numbers, taken as independent and equally well known.
 *
 * @param places abscissas
 * @throws FitError if they do not determine it
 */
export function fitPoints(law: Law, places: Float64Array, values: Float64Array): FitSolution {
  const sample = plainSample(places, values)
  return solve([{ law, sample }], { robust: 'none', fixed: [new Map()], shared: [] })
}

function minimise(
  members: readonly Member[],
  robust: RobustId,
  shared: readonly (readonly number[])[],
): FitSolution {
  for (const member of members) expectEnoughPoints(member)
  const zeros = members.map(({ law, sample }) => law.zero ?? middleOf(sample.places))
  const beginnings = members.map((member, m) => beginningOf(member, zeros[m], members.length === 1))
  const assembly = assemble(members, zeros, beginnings, shared)
  const minimum = bestFit(assembly, robust)
  expectDetermined(assembly, minimum.fit)
  return summarise(assembly, minimum)
}

/** Number of points from which on a fit starts from a fit to a sample of them, and the size of that sample. */
const MANY = 4000
const SAMPLED = 1200

/** Returns the initial parameters and bounds of a member. */
function beginningOf(
  { law, sample: { places, values } }: Member,
  zero: number,
  isSingle: boolean,
): Beginning {
  const beginning = law.begin(
    places.map((place) => place - zero),
    values,
  )
  if (!isSingle || values.length <= MANY) return beginning
  const some = scattered(places, values, SAMPLED)
  // Whether the parameters are determined is only asked of all points.
  const coarse: Law = { ...law, zero, begin: () => beginning, check: () => {} }
  const { parameters } = fitPoints(coarse, some.places, some.values)
  return { ...beginning, starts: [[...parameters]] }
}

/** @throws FitError if the points of a member are too few, or not finite */
function expectEnoughPoints({ law, sample: { places, values } }: Member): void {
  for (let i = 0; i < values.length; i++)
    if (!Number.isFinite(places[i]) || !Number.isFinite(values[i]))
      throw new FitError({ code: 'not-a-number', point: i + 1 })
  const [n, p] = [values.length, law.linear.length > 0 ? law.parameters.length : 1]
  if (hasDistinct(places, p)) return
  throw new FitError({ code: 'too-few-points', needed: p, points: n })
}

/** Returns true if at least `count` of the values are distinct. */
function hasDistinct(values: Float64Array, count: number): boolean {
  const seen = new Set<number>()
  for (let i = 0; i < values.length && seen.size < count; i++) seen.add(values[i])
  return seen.size >= count
}

const middleOf = (places: Float64Array) => places[0] + (places[places.length - 1] - places[0]) / 2

/** Returns the best of the minima found from all starts; throws the first start's error if none converges. */
function bestFit({ problem, starts }: FitAssembly, robust: RobustId): Minimum {
  let best: NonlinearFit | null = null
  let firstError: FitError | null = null
  for (const start of starts) {
    try {
      const fit = fitNonlinear({ ...problem, start })
      if (!best || fit.rss < best.rss) best = fit
    } catch (error) {
      if (!(error instanceof FitError)) throw error
      firstError ??= error
    }
  }
  if (!best) throw firstError ?? new FitError({ code: 'no-start' })
  if (robust === 'none') return { fit: best, weights: null, variance: null }
  const fit = fitRobust({ ...problem, start: best.parameters }, robust)
  return { fit, weights: fit.weights, variance: fit.variance }
}

/** @throws FitError if the points leave a parameter undetermined, or it lies at a bound */
function expectDetermined({ members, indices, zeros }: FitAssembly, fit: NonlinearFit): void {
  members.forEach(({ law, sample }, m) => {
    law.check?.(
      Float64Array.from(indices[m], (place) => fit.parameters[place]),
      sample.places.map((place) => place - zeros[m]),
    )
    const bound = indices[m].findIndex((place) => fit.atBound[place])
    if (bound >= 0)
      throw new FitError({ code: 'parameter-undetermined', parameter: law.parameters[bound].name })
  })
}

/** Returns independent points, equally well known, that come from no table. */
function plainSample(places: Float64Array, values: Float64Array): FitSample {
  const rows = Array.from(places, (_, i) => i)
  return {
    rows,
    frames: rows,
    places,
    values,
    breaks: [],
    derivation: null,
    whiten: null,
    smoothed: null,
    driftCorrelation: null,
    errors: values.map(() => Number.NaN),
    shifts: [],
    addSensitivity: () => {},
  }
}
