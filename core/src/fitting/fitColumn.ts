import type { Fit } from '../investigation/index.ts'
import { alongLine, type MotionTable, type QuantityInfo, type Range, Sway } from '../motion/index.ts'
import { FitError, product } from '../regression/index.ts'
import { type Dimension, metresIn, rounded, unitOf } from '../units/index.ts'
import { type ErrorPart, type ErrorSource, type Estimate, estimate } from './estimate.ts'
import {
  type Exponents,
  type Law,
  type LawParameter,
  MODELS,
  type Model,
  numberTex,
  symbolTex,
} from './models/index.ts'
import { type FitSample, fitSample } from './sample.ts'
import { type Solved, type SolvedMember, solve } from './solve.ts'

/** What of a fit's settings decides how it comes out. */
export type FitSettings = Pick<Fit, 'model'> &
  Partial<Pick<Fit, 'form' | 'robust' | 'expression' | 'start' | 'held' | 'shared'>>

/** A fitted parameter as it is shown. */
export interface FittedParameter extends Estimate {
  /** Symbol and subscript: what it is held, or had in common, by. */
  key: string
  symbol: string
  subscript: string
  name: string
  /** Whether somebody has put it to its value. */
  held: boolean
}

/** The physics that a fit says. */
export interface Reading extends Estimate {
  key: string
  /** How it goes with all errors that it may share with other readings; worked out when it is asked for. */
  sway: () => ReadingSway
  name: string
  symbol: string
  subscript: string
}

/** How a reading goes with errors, by one standard error of each: the marks', and those that all points share, by their keys. */
export interface ReadingSway {
  marks: Sway
  common: ReadonlyMap<string, { source: ErrorSource; by: number }>
}

/** A column that is fitted. */
export interface Fitted {
  table: MotionTable
  quantity: string
  model: Fit['model']
}

/** A law fitted to a stretch of one column, by itself or together with others. */
export interface ColumnFit {
  /** Its place among those that are fitted together. */
  member: number
  model: Model
  law: Law
  name: string
  quantity: QuantityInfo
  /** Which derivative of a number of places it is; null: of none. */
  order: 0 | 1 | 2 | null
  /** Whether it is of an angle. */
  isAngle: boolean
  /** TeX of the law with its symbols, and with the numbers in place; empty of a free form. */
  formula: string
  numbers: string
  parameters: FittedParameter[]
  /** Readings of the law, the one that it is fitted for first. */
  readings: Reading[]
  reading: Reading
  points: number
  /** Points that say something of their own, less what is found. */
  freedom: number
  /** Root mean square of the residuals, √(RSS/n), and the residuals by row of the table, in the column's unit. */
  rmse: number
  residuals: { row: number; frame: number; place: number; value: number; weight: number }[]
  /** Share of the values' spread about their mean that it explains, or of their squares where the law goes through zero. */
  rSquared: number
  isThroughZero: boolean
  unit: string
  /** Times of the first and last point. */
  from: number
  to: number
  /** Breaks that lie between its points where the law knows of none: it is one motion no more. */
  breaks: number
  solved: Solved
  /** Something that follows from the parameters of all columns, with its error. */
  estimate(of: (parameters: ArrayLike<number>) => number, unit: string): Estimate & Pick<Reading, 'sway'>
  valueAt(place: number): number
  /** Standard error of the curve that comes from the marks. */
  errorAt(place: number): number
  /** Value and slope at any time, with their errors. */
  at(place: number): { value: Estimate; slope: Estimate }
  /** Times at which it has some value, within as much again before and after the stretch, with the slopes there. */
  meets(level: number): { time: Estimate; slope: Estimate }[]
}

/** Of a parameter's standard error a step is so much, to see how a reading goes with it; and of its size at least so much. */
const STEP = { ofError: 0.01, ofSize: 1e-6 }
/** A share that is lost in differences. */
const ROUNDED = 1e-8
/** Places at which a curve is looked at to find where it meets a level. */
const LOOKED_AT = 400

/**
 * Fits a model to the points of a column between two frames. A derived column is fitted by generalised least squares
 * with the covariance that sharing marks gives its points, the law carried through the same derivation. Every error of
 * the calibration moves all points, and so the parameters: that makes the error budget.
 *
 * @throws FitError, or ExpressionError of a free form, where the points cannot carry it; its message is for the person
 */
export function fitColumn(
  table: MotionTable,
  quantity: string,
  range: Range,
  settings: FitSettings,
): ColumnFit {
  return fitColumns([{ table, quantity, model: settings.model }], range, settings)[0]
}

/** Fits several columns together, over the same frames, with what they share; see fitColumn. */
export function fitColumns(columns: readonly Fitted[], range: Range, settings: FitSettings): ColumnFit[] {
  const { robust = 'none', shared = {} } = settings
  const members = columns.map((column) => memberOf(column, range, settings))
  const keys = members.map(({ law }) => law.parameters.map(keyOf))
  const common = Object.keys(shared)
    .map((key) => keys.map((one) => one.indexOf(key)))
    .filter((places) => places.every((place) => place >= 0))
  const held = members.map(({ law, fitted, column }) =>
    heldOf(law, settings.held ?? {}, fitted.table, column),
  )
  const solved = solve(members, { robust, held, shared: members.length > 1 ? common : [] })
  const told = new Told(solved)
  return members.map((member, m) => columnFit(member, solved, told, m, held[m]))
}

const keyOf = ({ symbol, subscript }: LawParameter) => symbol + subscript

interface FittedMember {
  fitted: Fitted
  model: Model
  law: Law
  sample: FitSample
  column: { info: QuantityInfo; dimension: Dimension; unit: string }
  order: 0 | 1 | 2 | null
  isAngle: boolean
}

function memberOf(fitted: Fitted, range: Range, settings: FitSettings): FittedMember {
  const { table, quantity } = fitted
  const model = MODELS[fitted.model]
  const line = alongLine(quantity)
  const order = line?.order ?? null
  const column = table.column(quantity)
  const sample = fitSample(table, quantity, order, range)
  const isAngle = (line?.place.dimension ?? column.dimension).angle !== 0
  const law = model.law({
    ...{ order, isAngle, isOverTime: true, variable: 't' },
    letter: line?.place.letter ?? column.info.symbol,
    form: settings.form ?? 'physics',
    breaks: sample.breaks,
    expression: settings.expression ?? '',
    start: settings.start ?? {},
  })
  if (!law) throw new FitError(`${model.name} says nothing about this quantity.`)
  return { fitted, model, law, sample, column, order, isAngle }
}

/** Values of held parameters, by their place, in the table's units. */
function heldOf(
  law: Law,
  held: Readonly<Record<string, number>>,
  { length }: MotionTable,
  { dimension }: { dimension: Dimension },
): Map<number, number> {
  const metres = length === 'px' ? 1 : metresIn(length)
  return new Map(
    law.parameters.flatMap((parameter, k): [number, number][] => {
      const key = keyOf(parameter)
      if (!Object.hasOwn(held, key)) return []
      const power = dimension.mass === 0 ? dimension.length * (parameter.dimension?.value ?? 0) : 0
      return [[k, held[key] / metres ** power]]
    }),
  )
}

function columnFit(
  { fitted, model, law, sample, column, order, isAngle }: FittedMember,
  solved: Solved,
  told: Told,
  m: number,
  held: ReadonlyMap<number, number>,
): ColumnFit {
  const { table } = fitted
  const { parameters: found } = solved
  const member = solved.members[m]
  const unitsOf = (exponents: Exponents | null) => unitIn(exponents, column, table)
  const shown = member.shown(found)
  const parameters = law.parameters.map((parameter, k): FittedParameter => {
    const { symbol, subscript, name, dimension, turns = false } = parameter
    return {
      ...told.estimate((at) => member.shown(at)[k], unitsOf(dimension), turns),
      ...{ key: keyOf(parameter), symbol, subscript, name, held: held.has(k) },
    }
  })
  const { places, values, rows, frames } = sample
  const where = { from: places[0], to: places[places.length - 1] }
  const readings = law.readings.flatMap((reading): Reading[] => {
    const { key, name, symbol, subscript, dimension, isFrequency = false, of } = reading
    if (!Number.isFinite(of(shown, where))) return []
    const unit = unitsOf(dimension)
    return [
      {
        ...told.reading((at) => of(member.shown(at), where), isFrequency && unit === '1/s' ? 'Hz' : unit),
        ...{ key, name, symbol, subscript },
      },
    ]
  })
  const rss = product(member.residuals, member.residuals)
  const mean = law.isThroughZero ? 0 : values.reduce((sum, value) => sum + value / values.length, 0)
  const total = values.reduce((sum, value) => sum + (value - mean) ** 2, 0)
  const valueAt = (place: number) => member.valuesAt(found, [place])[0]
  const symbols = law.parameters.map(({ symbol, subscript }) => symbolTex(symbol, subscript))
  const numbers = parameters.map(({ value, error }) => numberTex(rounded(value, error)))
  const slopeUnit = unitsOf({ value: 1, along: -1 })
  return {
    ...{ member: m, model, law, name: law.name ?? model.name, quantity: column.info, order, isAngle },
    ...{ parameters, readings, reading: readings[0], solved, unit: column.unit },
    formula: law.formula(symbols, 't'),
    numbers: law.formula(numbers, 't'),
    points: values.length,
    freedom: solved.freedom,
    rmse: Math.sqrt(rss / values.length),
    residuals: rows.map((row, i) => ({
      ...{ row, frame: frames[i], place: places[i], value: member.residuals[i] },
      weight: solved.members.length === 1 ? (solved.weights?.[i] ?? 1) : 1,
    })),
    rSquared: total > 0 ? 1 - rss / total : Number.NaN,
    isThroughZero: law.isThroughZero ?? false,
    ...where,
    breaks: law.knowsBreaks ? 0 : sample.breaks.length,
    estimate: (of, unit) => told.reading(of, unit),
    valueAt,
    errorAt: (place) => told.spread((at) => member.valuesAt(at, [place])[0]),
    at: (place) => ({
      value: told.estimate((at) => member.valuesAt(at, [place])[0], column.unit),
      slope: told.estimate((at) => slopeOf(member, at, place, where), slopeUnit),
    }),
    meets: (level) =>
      crossings(valueAt, level, where).map((time) => {
        const again = (at: ArrayLike<number>) => meeting(member, at, level, time, where)
        return {
          time: told.estimate(again, 's'),
          slope: told.estimate((at) => slopeOf(member, at, again(at), where), slopeUnit),
        }
      }),
  }
}

type Where = { from: number; to: number }
type OfParameters = (parameters: ArrayLike<number>) => number

/** Says how far what follows from a fit's parameters is known. */
class Told {
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

  private spreadAlong(slopes: Float64Array): number {
    const { covariance } = this.solved
    const variance = slopes.reduce(
      (sum, slope, k) => sum + (slope === 0 ? 0 : slope * product(covariance[k], slopes)),
      0,
    )
    return Math.sqrt(Math.max(0, variance))
  }

  /** Its standard error that comes from the marks. */
  spread(of: OfParameters): number {
    return this.spreadAlong(this.slopes(of))
  }

  /** The same for what may be held against another reading. */
  reading(of: OfParameters, unit: string): Estimate & Pick<Reading, 'sway'> {
    return { ...this.estimate(of, unit), sway: () => this.swayOf(of) }
  }

  private swayOf(of: OfParameters): ReadingSway {
    const { solved } = this
    const slopes = this.slopes(of)
    const marks = new Sway()
    solved.pulledBy(slopes).forEach((weights, m) => {
      const { sway } = solved.members[m].sample
      weights.forEach((weight, i) => {
        sway(i, weight * solved.widened, marks)
      })
    })
    return {
      marks,
      common: new Map(this.moved.map(({ key, source, by }) => [key, { source, by: product(slopes, by) }])),
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
      const error = Math.abs(product(slopes, by))
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

const slopeOf = (member: SolvedMember, at: ArrayLike<number>, place: number, where: Where) =>
  slopesAt(member, at, Float64Array.of(place), where)[0]

/** Places around a stretch at which a curve has a value. */
function crossings(valueAt: (place: number) => number, level: number, { from, to }: Where): number[] {
  const span = to - from || 1
  const [first, step] = [from - span, (3 * span) / LOOKED_AT]
  const found: number[] = []
  let before = valueAt(first) - level
  for (let i = 1; i <= LOOKED_AT; i++) {
    const place = first + i * step
    const here = valueAt(place) - level
    if (before * here < 0) found.push(rootBetween((at) => valueAt(at) - level, place - step, place))
    else if (here === 0) found.push(place)
    before = here
  }
  return found
}

/** Where a function changes its sign between two places, by halving. */
function rootBetween(of: (place: number) => number, low: number, high: number): number {
  let [a, b] = [low, high]
  const isUp = of(a) < 0
  for (let i = 0; i < 80 && b - a > 1e-15 * Math.abs(b); i++) {
    const middle = (a + b) / 2
    if (of(middle) < 0 === isUp) a = middle
    else b = middle
  }
  return (a + b) / 2
}

/** Where the curve of other parameters meets a level, near where it did before: by Newton's steps. */
function meeting(
  member: SolvedMember,
  at: ArrayLike<number>,
  level: number,
  near: number,
  where: Where,
): number {
  let place = near
  for (let i = 0; i < 6; i++) {
    const slope = slopeOf(member, at, place, where)
    if (slope === 0) break
    place -= (member.valuesAt(at, [place])[0] - level) / slope
  }
  return place
}

/** The unit of something that is made so of the column's values and of times. */
function unitIn(
  exponents: Exponents | null,
  { dimension, unit }: { dimension: Dimension; unit: string },
  { length }: MotionTable,
): string {
  if (!exponents) return ''
  const { value = 0, along = 0, angle = 0 } = exponents
  if (value === 1 && along === 0) return unit
  const combined: Dimension = {
    mass: value * dimension.mass,
    length: value * dimension.length,
    time: value * dimension.time + along,
    angle: value * dimension.angle + angle,
  }
  if (value === 0 || unit === unitOf(dimension, length)) return unitOf(combined, length)
  // A unit of its own is kept, with what it is multiplied by.
  const over = unitOf({ mass: 0, length: 0, time: along, angle: 0 }, length)
  return over.startsWith('1/') ? `${unit}${over.slice(1)}` : `${unit}·${over}`
}
