import { FitError, type NonlinearProblem, type Whiten } from '../regression/index.ts'
import { lawThroughDerivation } from './lawThroughDerivation.ts'
import type { Beginning } from './models/index.ts'
import { type Member, stackedEvaluate, stackedLinear, stackedWhiten } from './stacked.ts'

/** A fit of one law, or of several with shared parameters, as one least-squares problem. */
export interface FitAssembly {
  members: readonly Member[]
  /** Abscissa that each member's parameters refer to. */
  zeros: readonly number[]
  /** Index of each member's parameters among all parameters. */
  indices: readonly (readonly number[])[]
  /** Number of points of each member, and index of its first point among all points. */
  sizes: readonly number[]
  offsets: readonly number[]
  /** Number of points and of parameters. */
  points: number
  parameterCount: number
  /** Null if the points are independent and equally well known. */
  whiten: Whiten | null
  problem: Omit<NonlinearProblem, 'start'>
  /** Initial parameters to try, each of length `parameterCount`. */
  starts: readonly (readonly number[])[]
}

/**
 * Stacks the members of a fit into one least-squares problem.
 *
 * @param zeros abscissa that each member's parameters refer to
 * @param beginnings initial parameters and bounds of each member
 * @param shared for each shared parameter its index in each member
 * @throws FitError if a member has no initial parameters
 */
export function assemble(
  members: readonly Member[],
  zeros: readonly number[],
  beginnings: readonly Beginning[],
  shared: readonly (readonly number[])[],
): FitAssembly {
  if (beginnings.some(({ starts }) => starts.length === 0)) throw new FitError({ code: 'no-resemblance' })
  let parameterCount = 0
  const indices = beginnings.map(({ starts: [start] }, m) =>
    start.map((_, k) => {
      const common = shared.find((one) => one[m] === k)
      return common && m > 0 ? common[0] : parameterCount++
    }),
  )
  const sizes = members.map(({ sample }) => sample.values.length)
  const offsets = sizes.map((_, m) => sizes.slice(0, m).reduce((sum, size) => sum + size, 0))
  const points = sizes.reduce((sum, size) => sum + size, 0)
  const y = new Float64Array(points)
  members.forEach(({ sample }, m) => {
    y.set(sample.values, offsets[m])
  })
  const whiten = stackedWhiten(members, offsets, sizes, points)
  /** Returns the values of all parameters from those of each member. */
  const spread = (values: readonly (readonly number[])[], missing: number) => {
    const all = new Array<number>(parameterCount).fill(missing)
    indices.forEach((places, m) => {
      places.forEach((place, k) => {
        all[place] = values[m][k] ?? missing
      })
    })
    return all
  }
  const lower = beginnings.map((one) => one.lower ?? [])
  const upper = beginnings.map((one) => one.upper ?? [])
  const isSingle = members.length === 1
  const firstStarts = beginnings.map(({ starts: [start] }) => start)
  return {
    members,
    zeros,
    indices,
    sizes,
    offsets,
    points,
    parameterCount,
    whiten,
    problem: {
      y,
      evaluate: stackedEvaluate(
        members.map((member, m) => evaluateOf(member, zeros[m])),
        indices,
        offsets,
        sizes,
      ),
      linear: isSingle ? members[0].law.linear : stackedLinear(members, indices),
      hasCorners: members.some(({ law }) => law.hasCorners),
      ...(whiten && { whiten }),
      ...(beginnings.some((one) => one.lower) && { lower: spread(lower, Number.NEGATIVE_INFINITY) }),
      ...(beginnings.some((one) => one.upper) && { upper: spread(upper, Number.POSITIVE_INFINITY) }),
    },
    starts: isSingle ? beginnings[0].starts : [spread(firstStarts, 0)],
  }
}

/** Returns the evaluation of a law at the points of its member, through their derivation if they are derived. */
function evaluateOf({ law, sample: { places, derivation } }: Member, zero: number) {
  const fromZero = (all: Float64Array) => all.map((place) => place - zero)
  return derivation
    ? lawThroughDerivation(law.on, fromZero(derivation.times), derivation.map, derivation.order)
    : law.on(fromZero(places))
}
