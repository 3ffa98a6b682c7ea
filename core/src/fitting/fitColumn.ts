import { type MotionTable, once, type QuantityInfo, type Range } from '../motion/index.ts'
import { dotProduct, FitError } from '../regression/index.ts'
import { type Dimension, type LengthUnit, metresIn, rounded } from '../units/index.ts'
import { crossings, meeting } from './crossings.ts'
import { curveSlopeAt, ErrorPropagation } from './errorPropagation.ts'
import type { ColumnFit, FitSettings, Fitted, FittedParameter, Reading } from './fitResult.ts'
import type { FitSolution } from './fitSolution.ts'
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
import { solve } from './solve.ts'
import { type Sized, TIME, unitIn } from './unitIn.ts'

/**
 * Fits a model to the points of a column within a range of frames by generalised least squares. Points of a derived column
 * are correlated since they share marks; the law goes through the same derivation. The error budget of each parameter and
 * reading has a part for the marks and one for each calibration error.
 *
 * @throws FitError, with the code of the reason, if the points do not determine it; ExpressionError for a free form that is wrong
 */
export function fitColumn(
  table: MotionTable,
  quantity: string,
  range: Range,
  settings: FitSettings,
): ColumnFit {
  return fitColumns([{ table, quantity, model: settings.model }], range, settings)[0]
}

/** Fits several columns over the same frames with shared parameters; see `fitColumn`. */
export function fitColumns(columns: readonly Fitted[], range: Range, settings: FitSettings): ColumnFit[] {
  const { robust = 'none', shared = {} } = settings
  const members = columns.map((column) => memberOf(column, range, settings))
  const keys = members.map(({ law }) => law.parameters.map(keyOf))
  const common = Object.keys(shared)
    .map((key) => keys.map((one) => one.indexOf(key)))
    .filter((places) => places.every((place) => place >= 0))
  const fixed = members.map((member) => fixedOf(member, settings.fixed ?? {}))
  const solution = solve(members, { robust, fixed, shared: members.length > 1 ? common : [] })
  const propagation = new ErrorPropagation(solution)
  return members.map((member, m) => columnFit(member, solution, propagation, m, fixed[m]))
}

const keyOf = ({ symbol, subscript }: LawParameter) => symbol + subscript

/** A column to be fitted, with its law and its points. */
export interface FittedMember {
  /** Unit in which lengths are. */
  length: LengthUnit
  model: Model
  law: Law
  sample: FitSample
  column: { info: QuantityInfo; dimension: Dimension; unit: string }
  order: 0 | 1 | 2 | null
  isAngle: boolean
  /** Unit and symbol of the abscissa. */
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
  if (!law) throw new FitError({ code: 'model-does-not-apply', model: model.name })
  return {
    length: table.length,
    model,
    law,
    sample,
    column,
    order,
    isAngle,
    against: { ...TIME, symbol: 't' },
  }
}

/** Returns the values of fixed parameters by index, in the table's units. */
function fixedOf(
  { law, column, length }: FittedMember,
  fixed: Readonly<Record<string, number>>,
): Map<number, number> {
  return new Map(
    law.parameters.flatMap((parameter, k): [number, number][] => {
      const key = keyOf(parameter)
      return Object.hasOwn(fixed, key) ? [[k, fixed[key] / storedUnits(parameter, column, length)]] : []
    }),
  )
}

/** Returns the factor from the unit in which a parameter is shown to the one in which it is stored. */
function storedUnits(
  { dimension: of }: LawParameter,
  { dimension }: FittedMember['column'],
  length: LengthUnit,
): number {
  // Quantities with a mass are always in metres.
  if (length === 'px' || dimension.mass !== 0) return 1
  return metresIn(length) ** (dimension.length * (of?.value ?? 0))
}

const unitOf = (exponents: Exponents | null, { column, against, length }: FittedMember) =>
  unitIn(exponents, column, against, length)

/** Returns the parameters of member `m` of a fit, in the units in which they are shown. */
function parametersOf(
  fittedMember: FittedMember,
  solution: FitSolution,
  propagation: ErrorPropagation,
  m: number,
  fixed: ReadonlyMap<number, number>,
): FittedParameter[] {
  const { law, column, length } = fittedMember
  const member = solution.members[m]
  return law.parameters.map((parameter, k): FittedParameter => {
    const { symbol, subscript, name, dimension, turns = false } = parameter
    return {
      ...propagation.estimate((at) => member.shownParameters(at)[k], unitOf(dimension, fittedMember), turns),
      key: keyOf(parameter),
      symbol,
      subscript,
      name,
      isFixed: fixed.has(k),
      kept: storedUnits(parameter, column, length),
    }
  })
}

/** Returns the readings of member `m` of a fit that have a value. */
function readingsOf(
  fittedMember: FittedMember,
  solution: FitSolution,
  propagation: ErrorPropagation,
  m: number,
  where: { from: number; to: number },
): Reading[] {
  const member = solution.members[m]
  const shown = member.shownParameters(solution.parameters)
  return fittedMember.law.readings.flatMap((reading): Reading[] => {
    const { key, name, symbol, subscript, dimension, isFrequency = false, of } = reading
    if (!Number.isFinite(of(shown, where))) return []
    const unit = unitOf(dimension, fittedMember)
    return [
      {
        ...propagation.reading(
          (at) => of(member.shownParameters(at), where),
          isFrequency && unit === '1/s' ? 'Hz' : unit,
        ),
        key,
        name,
        symbol,
        subscript,
      },
    ]
  })
}

/** Returns the residual sum of squares, and R² = 1 − RSS/TSS about the mean or about zero; NaN if all values are equal. */
function sumsOfSquares(
  values: Float64Array,
  residuals: Float64Array,
  isThroughZero = false,
): { rss: number; rSquared: number } {
  const rss = dotProduct(residuals, residuals)
  const mean = isThroughZero ? 0 : values.reduce((sum, value) => sum + value / values.length, 0)
  const total = values.reduce((sum, value) => sum + (value - mean) ** 2, 0)
  return { rss, rSquared: total > 0 ? 1 - rss / total : Number.NaN }
}

/** Returns parameters, readings and statistics of one column of a fit. */
export function columnFit(
  fittedMember: FittedMember,
  solution: FitSolution,
  propagation: ErrorPropagation,
  m: number,
  fixed: ReadonlyMap<number, number>,
): ColumnFit {
  const { model, law, sample, column, order, isAngle, against } = fittedMember
  const { parameters: found } = solution
  const member = solution.members[m]
  const parameters = parametersOf(fittedMember, solution, propagation, m, fixed)
  const { places, values, rows, frames } = sample
  // Along a path the abscissas are not monotonic.
  const where = { from: places.reduce((a, b) => Math.min(a, b)), to: places.reduce((a, b) => Math.max(a, b)) }
  const readings = readingsOf(fittedMember, solution, propagation, m, where)
  const { rss, rSquared } = sumsOfSquares(values, member.residuals, law.isThroughZero)
  const valueAt = (place: number) => member.valuesAt(found, [place])[0]
  const errorAt = (place: number) => propagation.standardError((at) => member.valuesAt(at, [place])[0])
  const scatter = Math.sqrt(rss / Math.max(1, values.length - (parameters.length - fixed.size)))
  const symbols = law.parameters.map(({ symbol, subscript }) => symbolTex(symbol, subscript))
  const numbers = parameters.map(({ value, error }) => numberTex(rounded(value, error)))
  const slopeUnit = unitOf({ value: 1, along: -1 }, fittedMember)
  return {
    member: m,
    model,
    law,
    name: law.name ?? model.name,
    quantity: column.info,
    order,
    isAngle,
    parameters,
    readings,
    reading: readings[0],
    solution,
    unit: column.unit,
    residualUnit: column.unit,
    placeUnit: against.unit,
    formula: law.formula(symbols, against.symbol),
    numbers: law.formula(numbers, against.symbol),
    points: values.length,
    freedom: solution.freedom,
    rmse: Math.sqrt(rss / values.length),
    residuals: once(() =>
      rows.map((row, i) => ({
        row,
        frame: frames[i],
        place: places[i],
        value: member.residuals[i],
        weight: solution.members.length === 1 ? (solution.weights?.[i] ?? 1) : 1,
      })),
    ),
    rSquared,
    isThroughZero: law.isThroughZero ?? false,
    ...where,
    breaks: law.knowsBreaks ? 0 : sample.breaks.length,
    estimate: (of, unit) => propagation.reading(of, unit),
    loop: null,
    roomInBend: null,
    valueAt,
    errorAt,
    predictionErrorAt: (place) => Math.hypot(errorAt(place), scatter),
    correlations: once(() =>
      propagation.correlations(parameters.map((_, k) => (at) => member.shownParameters(at)[k])),
    ),
    at: (place) => ({
      value: propagation.estimate((at) => member.valuesAt(at, [place])[0], column.unit),
      slope: propagation.estimate((at) => curveSlopeAt(member, at, place, where), slopeUnit),
    }),
    meets: (level) =>
      crossings(valueAt, level, where).map((time) => {
        const again = (at: ArrayLike<number>) => meeting(member, at, level, time, where)
        return {
          time: propagation.estimate(again, against.unit),
          slope: propagation.estimate((at) => curveSlopeAt(member, at, again(at), where), slopeUnit),
        }
      }),
  }
}
