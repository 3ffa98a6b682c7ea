import { ErrorSensitivity } from '../motion/index.ts'
import { dotProduct } from '../regression/index.ts'
import { combinedBySource, type ErrorSource, type Estimate, estimate } from './estimate.ts'
import type { Reading, ReadingSensitivity } from './fitResult.ts'
import type { FitSolution, SolutionMember } from './fitSolution.ts'

/** First and last abscissa of a stretch. */
export type AbscissaRange = { from: number; to: number }
type OfParameters = (parameters: ArrayLike<number>) => number

/** Step of a numerical derivative: in standard errors of the parameter, and least step relative to its size. */
const STEP = { ofError: 0.01, ofSize: 1e-6 }
/** An error below this fraction of the terms that it is the sum of is rounding. */
const ROUNDED = 1e-8

/**
 * Propagates the errors of a fit to numbers that follow from its parameters: those of the marks through the covariance of the
 * parameters, and each error that all points share (scale, axes, clock, camera, stated values) through the shift of the
 * parameters by one standard error.
 */
export class ErrorPropagation {
  /** Shift of the parameters, length p, by one standard error of each shared error. */
  private readonly sharedShifts: { key: string; source: ErrorSource; freedom: number; by: Float64Array }[]
  private readonly steps: number[]

  /** @param source name of the independent errors of the points in error budgets */
  constructor(
    private readonly solution: FitSolution,
    private readonly source: ErrorSource = 'marks',
  ) {
    this.sharedShifts = parameterShifts(solution)
    this.steps = Array.from(solution.parameters, (value, k) => {
      const error = Math.sqrt(solution.covariance[k][k])
      const step = Math.max(Number.isFinite(error) ? STEP.ofError * error : 0, STEP.ofSize * Math.abs(value))
      return step > 0 ? step : STEP.ofSize
    })
  }

  /**
   * Returns the derivatives of a number with respect to the parameters, length p, by central differences.
   *
   * @param turns whether the number is an angle, which may jump by whole turns
   */
  private gradient(of: OfParameters, turns = false): Float64Array {
    const { parameters } = this.solution
    return Float64Array.from(parameters, (value, k) => {
      const beside = (by: number) => {
        const at = Float64Array.from(parameters)
        at[k] = value + by
        return of(at)
      }
      const difference = beside(this.steps[k]) - beside(-this.steps[k])
      const jump = turns ? 2 * Math.PI * Math.round(difference / (2 * Math.PI)) : 0
      return (difference - jump) / (2 * this.steps[k])
    })
  }

  /** Returns the covariance, due to the marks, of two numbers with these gradients. */
  private covarianceAlong(one: Float64Array, other: Float64Array): number {
    const { covariance } = this.solution
    return one.reduce(
      (sum, slope, k) => sum + (slope === 0 ? 0 : slope * dotProduct(covariance[k], other)),
      0,
    )
  }

  /** Returns the standard error, due to the marks, of a number with this gradient. */
  private errorAlong(slopes: Float64Array): number {
    return Math.sqrt(Math.max(0, this.covarianceAlong(slopes, slopes)))
  }

  /** Returns the standard error that is due to the marks. */
  standardError(of: OfParameters): number {
    return this.errorAlong(this.gradient(of))
  }

  /** Returns the correlation matrix, due to the marks, of several numbers; NaN for one that is known exactly. */
  correlations(all: readonly OfParameters[]): number[][] {
    const slopes = all.map((of) => this.gradient(of))
    const errors = slopes.map((one) => this.errorAlong(one))
    return slopes.map((one, i) =>
      slopes.map((other, j) => this.covarianceAlong(one, other) / (errors[i] * errors[j])),
    )
  }

  /** Returns the number with its error budget, and its sensitivities, to be compared with other readings. */
  reading(of: OfParameters, unit: string): Estimate & Pick<Reading, 'sensitivity'> {
    return { ...this.estimate(of, unit), sensitivity: () => this.sensitivityOf(of) }
  }

  private sensitivityOf(of: OfParameters): ReadingSensitivity {
    const { solution } = this
    const slopes = this.gradient(of)
    const marks = new ErrorSensitivity()
    solution.pointInfluence(slopes).forEach((weights, m) => {
      const { addSensitivity } = solution.members[m].sample
      weights.forEach((weight, i) => {
        addSensitivity(i, weight * solution.birgeFactor, marks)
      })
    })
    const shared = this.sharedEffects(slopes, this.errorAlong(slopes))
    return {
      // Stated values are among the shared errors.
      marks: marks.ofMarks(),
      common: new Map(shared.map(({ key, source, effect }) => [key, { source, by: effect }])),
    }
  }

  /**
   * Returns how a number with this gradient changes by one standard error of each shared error. Of the drift of following it is what the
   * marks' own scatter does not show yet: both together are at least the drift, and it is not counted twice.
   *
   * @param marks standard error of the number due to the marks
   */
  private sharedEffects(slopes: Float64Array, marks: number) {
    const effects = this.sharedShifts.map((shift) => ({ ...shift, effect: dotProduct(slopes, shift.by) }))
    const drift = Math.hypot(
      ...effects.filter(({ source }) => source === 'following').map(({ effect }) => effect),
    )
    const excess = drift > marks ? Math.sqrt(1 - (marks / drift) ** 2) : 0
    return effects.map((one) => (one.source === 'following' ? { ...one, effect: excess * one.effect } : one))
  }

  /** Returns the number with its error budget. */
  estimate(of: OfParameters, unit: string, turns = false): Estimate {
    const { parameters, freedom } = this.solution
    const value = of(parameters)
    const slopes = this.gradient(of, turns)
    const marks = this.errorAlong(slopes)
    const shared = this.sharedEffects(slopes, marks).flatMap(({ source, freedom: known, by, effect }) => {
      const error = Math.abs(effect)
      const terms = slopes.reduce((sum, slope, k) => sum + Math.abs(slope * by[k]), 0)
      return error > ROUNDED * terms ? [{ source, error, freedom: known }] : []
    })
    return estimate(value, unit, [
      { source: this.source, error: marks, freedom },
      ...combinedBySource(shared),
    ])
  }
}

/** Returns the shift of the parameters by one standard error of each shared error, which acts on all columns at once. */
function parameterShifts(
  solution: FitSolution,
): { key: string; source: ErrorSource; freedom: number; by: Float64Array }[] {
  const { members, parameters } = solution
  const keys = new Set(members.flatMap(({ sample }) => sample.shifts.map(({ key }) => key)))
  return [...keys].map((key) => {
    const shifts = members.map(({ sample }) => sample.shifts.find((shift) => shift.key === key))
    const { source, freedom } = shifts.find((shift) => shift !== undefined)!
    const changes = members.map((member, m) => {
      const shift = shifts[m]
      if (!shift) return new Float64Array(member.sample.values.length)
      if (shift.timeScale === 0) return shift.values
      const { places } = member.sample
      const where = { from: places[0], to: places[places.length - 1] }
      const slopes = curveSlopesAt(member, parameters, places, where)
      return shift.values.map((by, i) => by - shift.timeScale * places[i] * slopes[i])
    })
    return { key, source, freedom, by: solution.parameterShift(changes) }
  })
}

const stepIn = ({ from, to }: AbscissaRange) => 1e-5 * (to - from || 1)

/** Returns the slopes of a member's curve at abscissas, by central differences. */
function curveSlopesAt(
  member: SolutionMember,
  at: ArrayLike<number>,
  places: Float64Array,
  where: AbscissaRange,
): Float64Array {
  const step = stepIn(where)
  const up = member.valuesAt(
    at,
    places.map((place) => place + step),
  )
  const down = member.valuesAt(
    at,
    places.map((place) => place - step),
  )
  return up.map((value, i) => (value - down[i]) / (2 * step))
}

/** Returns the slope of a member's curve at an abscissa. */
export const curveSlopeAt = (
  member: SolutionMember,
  at: ArrayLike<number>,
  place: number,
  where: AbscissaRange,
) => curveSlopesAt(member, at, Float64Array.of(place), where)[0]
