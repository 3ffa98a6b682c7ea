import type { Fit } from '../investigation/index.ts'
import {
  type ErrorSensitivity,
  type MotionTable,
  once,
  type QuantityInfo,
  type Range,
} from '../motion/index.ts'
import { dotProduct, FitError } from '../regression/index.ts'
import { type Dimension, metresIn, rounded } from '../units/index.ts'
import { crossings, meeting } from './crossings.ts'
import type { ErrorSource, Estimate } from './estimate.ts'
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
import { settingOf } from './settings.ts'
import { type Solved, solve } from './solve.ts'
import { slopeOf, Told } from './told.ts'
import { type Sized, TIME, unitIn } from './unitIn.ts'

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
  /** How many of the units in which held values are kept its own unit is. */
  kept: number
}

/** The physics that a fit says. */
export interface Reading extends Estimate {
  key: string
  /** How it goes with all errors that it may share with other readings; worked out when it is asked for. */
  sensitivity: () => ReadingSensitivity
  name: string
  symbol: string
  subscript: string
}

/** How a reading goes with errors, by one standard error of each: the marks', and those that all points share, by their keys. */
export interface ReadingSensitivity {
  marks: ErrorSensitivity
  common: ReadonlyMap<string, { source: ErrorSource; by: number }>
}

/** A column that is fitted. */
export interface Fitted {
  table: MotionTable
  quantity: string
  model: Fit['model']
}

/** How far a point is off the curve, and what it counts for. */
export interface Residual {
  row: number
  frame: number
  place: number
  value: number
  weight: number
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
  /** Root mean square of the residuals, √(RSS/n), and the residuals. */
  rmse: number
  residuals: () => Residual[]
  /** Share of the values' spread about their mean that it explains, or of their squares where the law goes through zero; NaN of a closed curve. */
  rSquared: number
  isThroughZero: boolean
  unit: string
  /** What the residuals are in: that unit, or of a closed curve standard errors, as no distance across it has a unit of its own. */
  residualUnit: string
  /** Least and greatest of what it stands against, the times of the first and last point, and the unit of these. */
  from: number
  to: number
  placeUnit: string
  /** Breaks that lie between its points where the law knows of none: it is one motion no more. */
  breaks: number
  solved: Solved
  /** Something that follows from the parameters of all columns, with its error. */
  estimate(
    of: (parameters: ArrayLike<number>) => number,
    unit: string,
  ): Estimate & Pick<Reading, 'sensitivity'>
  valueAt(place: number): number
  /** Places of the curve, where it is not told by what it stands against: once round. */
  loop: { x: number; y: number }[] | null
  /** How many standard errors of a point the narrowest bend of a path has room for, at the points; null against time. */
  roomInBend: (() => number) | null
  /** Standard error of the curve that comes from the marks. */
  errorAt(place: number): number
  /** Standard error of a further point about the curve: that of the curve and the points' own scatter. */
  predictionErrorAt(place: number): number
  /** Correlations of the parameters by the marks' errors, in their order; NaN of one that is held. */
  correlations: () => number[][]
  /** Value and slope at any time, with their errors. */
  at(place: number): { value: Estimate; slope: Estimate }
  /** Times at which it has some value, within as much again before and after the stretch, with the slopes there. */
  meets(level: number): { time: Estimate; slope: Estimate }[]
}

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
  const held = members.map((member) => heldOf(member, settings.held ?? {}))
  const solved = solve(members, { robust, held, shared: members.length > 1 ? common : [] })
  const told = new Told(solved)
  return members.map((member, m) => columnFit(member, solved, told, m, held[m]))
}

const keyOf = ({ symbol, subscript }: LawParameter) => symbol + subscript

export interface FittedMember {
  fitted: Fitted
  model: Model
  law: Law
  sample: FitSample
  column: { info: QuantityInfo; dimension: Dimension; unit: string }
  order: 0 | 1 | 2 | null
  isAngle: boolean
  /** What it stands against. */
  against: Sized & { symbol: string }
}

function memberOf(fitted: Fitted, range: Range, settings: FitSettings): FittedMember {
  const { table, quantity } = fitted
  const model = MODELS[fitted.model]
  const column = table.column(quantity)
  const setting = settingOf(column.info)
  const { order, isAngle } = setting
  const sample = fitSample(table, quantity, order, range)
  const law = model.law({
    ...setting,
    form: settings.form ?? 'physics',
    breaks: sample.breaks,
    expression: settings.expression ?? '',
    start: settings.start ?? {},
  })
  if (!law) throw new FitError(`${model.name} says nothing about this quantity.`)
  return { fitted, model, law, sample, column, order, isAngle, against: { ...TIME, symbol: 't' } }
}

/** Values of held parameters, by their place, in the table's units. */
function heldOf(
  { law, column, fitted }: FittedMember,
  held: Readonly<Record<string, number>>,
): Map<number, number> {
  return new Map(
    law.parameters.flatMap((parameter, k): [number, number][] => {
      const key = keyOf(parameter)
      return Object.hasOwn(held, key) ? [[k, held[key] / keptIn(parameter, column, fitted.table)]] : []
    }),
  )
}

/** How many of the units that are kept one of those is in which a parameter is shown. */
function keptIn(
  { dimension: of }: LawParameter,
  { dimension }: FittedMember['column'],
  { length }: MotionTable,
): number {
  // What has a mass in it stands in metres always.
  if (length === 'px' || dimension.mass !== 0) return 1
  return metresIn(length) ** (dimension.length * (of?.value ?? 0))
}

/** What is told of one column of a fit. */
export function columnFit(
  { fitted, model, law, sample, column, order, isAngle, against }: FittedMember,
  solved: Solved,
  told: Told,
  m: number,
  held: ReadonlyMap<number, number>,
): ColumnFit {
  const { table } = fitted
  const { parameters: found } = solved
  const member = solved.members[m]
  const unitsOf = (exponents: Exponents | null) => unitIn(exponents, column, against, table.length)
  const shown = member.shown(found)
  const parameters = law.parameters.map((parameter, k): FittedParameter => {
    const { symbol, subscript, name, dimension, turns = false } = parameter
    return {
      ...told.estimate((at) => member.shown(at)[k], unitsOf(dimension), turns),
      ...{ key: keyOf(parameter), symbol, subscript, name, held: held.has(k) },
      kept: keptIn(parameter, column, table),
    }
  })
  const { places, values, rows, frames } = sample
  // Along a path places go to and fro.
  const where = { from: places.reduce((a, b) => Math.min(a, b)), to: places.reduce((a, b) => Math.max(a, b)) }
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
  const rss = dotProduct(member.residuals, member.residuals)
  const mean = law.isThroughZero ? 0 : values.reduce((sum, value) => sum + value / values.length, 0)
  const total = values.reduce((sum, value) => sum + (value - mean) ** 2, 0)
  const valueAt = (place: number) => member.valuesAt(found, [place])[0]
  const errorAt = (place: number) => told.spread((at) => member.valuesAt(at, [place])[0])
  const scatter = Math.sqrt(rss / Math.max(1, values.length - (parameters.length - held.size)))
  const symbols = law.parameters.map(({ symbol, subscript }) => symbolTex(symbol, subscript))
  const numbers = parameters.map(({ value, error }) => numberTex(rounded(value, error)))
  const slopeUnit = unitsOf({ value: 1, along: -1 })
  return {
    ...{ member: m, model, law, name: law.name ?? model.name, quantity: column.info, order, isAngle },
    ...{ parameters, readings, reading: readings[0], solved, unit: column.unit },
    ...{ residualUnit: column.unit, placeUnit: against.unit },
    formula: law.formula(symbols, against.symbol),
    numbers: law.formula(numbers, against.symbol),
    points: values.length,
    freedom: solved.freedom,
    rmse: Math.sqrt(rss / values.length),
    residuals: once(() =>
      rows.map((row, i) => ({
        ...{ row, frame: frames[i], place: places[i], value: member.residuals[i] },
        weight: solved.members.length === 1 ? (solved.weights?.[i] ?? 1) : 1,
      })),
    ),
    rSquared: total > 0 ? 1 - rss / total : Number.NaN,
    isThroughZero: law.isThroughZero ?? false,
    ...where,
    breaks: law.knowsBreaks ? 0 : sample.breaks.length,
    estimate: (of, unit) => told.reading(of, unit),
    loop: null,
    roomInBend: null,
    valueAt,
    errorAt,
    predictionErrorAt: (place) => Math.hypot(errorAt(place), scatter),
    correlations: once(() => told.correlations(parameters.map((_, k) => (at) => member.shown(at)[k]))),
    at: (place) => ({
      value: told.estimate((at) => member.valuesAt(at, [place])[0], column.unit),
      slope: told.estimate((at) => slopeOf(member, at, place, where), slopeUnit),
    }),
    meets: (level) =>
      crossings(valueAt, level, where).map((time) => {
        const again = (at: ArrayLike<number>) => meeting(member, at, level, time, where)
        return {
          time: told.estimate(again, against.unit),
          slope: told.estimate((at) => slopeOf(member, at, again(at), where), slopeUnit),
        }
      }),
  }
}
