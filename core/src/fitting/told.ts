import { ErrorSensitivity } from '../motion/index.ts'
import { dotProduct } from '../regression/index.ts'
import { type ErrorPart, type ErrorSource, type Estimate, estimate } from './estimate.ts'
import type { Reading, ReadingSensitivity } from './fitColumn.ts'
import type { Solved, SolvedMember } from './solve.ts'

/** First and last place of a stretch. */
export type Where = { from: number; to: number }
type OfParameters = (parameters: ArrayLike<number>) => number

/** Of a parameter's standard error a step is so much, to see how a reading goes with it; and of its size at least so much. */
const STEP = { ofError: 0.01, ofSize: 1e-6 }
/** A share that is lost in differences. */
const ROUNDED = 1e-8
/** Says how far what follows from a fit's parameters is known. */
export class Told {
  /** How each error that all points share moves the parameters. */
  private readonly moved: { key: string; source: ErrorSource; freedom: number; by: Float64Array }[]
  private readonly steps: number[]

  constructor(private readonly solved: Solved) {
    this.moved = movedByShifts(solved)
    this.steps = Array.from(solved.parameters, (value, k) => {
      const error = Math.sqrt(solved.covariance[k][k])
      const step = Math.max(Number.isFinite(error) ? STEP.ofError * error : 0, STEP.ofSize * Math.abs(value))
      return step > 0 ? step : STEP.ofSize
    })
  }

  /** How a number that follows from the parameters goes with each of them, by differences. */
  private slopes(of: OfParameters, turns = false): Float64Array {
    const { parameters } = this.solved
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

  /** Covariance, by the marks' errors, of two numbers that go so with the parameters. */
  private covarianceAlong(one: Float64Array, other: Float64Array): number {
    const { covariance } = this.solved
    return one.reduce(
      (sum, slope, k) => sum + (slope === 0 ? 0 : slope * dotProduct(covariance[k], other)),
      0,
    )
  }

  private spreadAlong(slopes: Float64Array): number {
    return Math.sqrt(Math.max(0, this.covarianceAlong(slopes, slopes)))
  }

  /** Its standard error that comes from the marks. */
  spread(of: OfParameters): number {
    return this.spreadAlong(this.slopes(of))
  }

  /**
   * Correlations, by the marks' errors, of numbers that follow from the parameters; NaN of one that is known exactly.
   */
  correlations(all: readonly OfParameters[]): number[][] {
    const slopes = all.map((of) => this.slopes(of))
    const errors = slopes.map((one) => this.spreadAlong(one))
    return slopes.map((one, i) =>
      slopes.map((other, j) => this.covarianceAlong(one, other) / (errors[i] * errors[j])),
    )
  }

  /** The same for what may be held against another reading. */
  reading(of: OfParameters, unit: string): Estimate & Pick<Reading, 'sensitivity'> {
    return { ...this.estimate(of, unit), sensitivity: () => this.sensitivityOf(of) }
  }

  private sensitivityOf(of: OfParameters): ReadingSensitivity {
    const { solved } = this
    const slopes = this.slopes(of)
    const marks = new ErrorSensitivity()
    solved.pulledBy(slopes).forEach((weights, m) => {
      const { sensitivity } = solved.members[m].sample
      weights.forEach((weight, i) => {
        sensitivity(i, weight * solved.widened, marks)
      })
    })
    return {
      // What is stated is among what all points share.
      marks: marks.ofMarks(),
      common: new Map(this.moved.map(({ key, source, by }) => [key, { source, by: dotProduct(slopes, by) }])),
    }
  }

  /** Its value with all parts of its error. */
  estimate(of: OfParameters, unit: string, turns = false): Estimate {
    const { parameters, freedom } = this.solved
    const value = of(parameters)
    const slopes = this.slopes(of, turns)
    const parts: ErrorPart[] = [{ source: 'marks', error: this.spreadAlong(slopes), freedom }]
    const beside = new Map<ErrorSource, ErrorPart>()
    for (const { source, freedom: known, by } of this.moved) {
      const error = Math.abs(dotProduct(slopes, by))
      // What is only lost in rounding is no error.
      const whole = slopes.reduce((sum, slope, k) => sum + Math.abs(slope * by[k]), 0)
      if (!(error > ROUNDED * whole)) continue
      const part = beside.get(source)
      beside.set(source, {
        ...{ source, error: Math.hypot(part?.error ?? 0, error) },
        freedom: Math.min(part?.freedom ?? known, known),
      })
    }
    return estimate(value, unit, [...parts, ...beside.values()])
  }
}

/** How the parameters move with each error that points share, the same one in all columns at once. */
function movedByShifts(
  solved: Solved,
): { key: string; source: ErrorSource; freedom: number; by: Float64Array }[] {
  const { members, parameters } = solved
  const keys = new Set(members.flatMap(({ sample }) => sample.shifts.map(({ key }) => key)))
  return [...keys].map((key) => {
    const shifts = members.map(({ sample }) => sample.shifts.find((shift) => shift.key === key))
    const { source, freedom } = shifts.find((shift) => shift !== undefined)!
    const changes = members.map((member, m) => {
      const shift = shifts[m]
      if (!shift) return new Float64Array(member.sample.values.length)
      if (shift.stretch === 0) return shift.values
      const { places } = member.sample
      const where = { from: places[0], to: places[places.length - 1] }
      const slopes = slopesAt(member, parameters, places, where)
      return shift.values.map((by, i) => by - shift.stretch * places[i] * slopes[i])
    })
    return { key, source, freedom, by: solved.movedBy(changes) }
  })
}

const stepIn = ({ from, to }: Where) => 1e-5 * (to - from || 1)

function slopesAt(
  member: SolvedMember,
  at: ArrayLike<number>,
  places: Float64Array,
  where: Where,
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

/** Slope of a member's curve at a place. */
export const slopeOf = (member: SolvedMember, at: ArrayLike<number>, place: number, where: Where) =>
  slopesAt(member, at, Float64Array.of(place), where)[0]
