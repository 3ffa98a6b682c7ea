import {
  combinedBySource,
  covarianceOf,
  type ErrorPart,
  type ErrorSource,
  type Estimate,
  estimate,
  type ReadingSensitivity,
} from '../fitting/index.ts'
import { type Calculation, type Investigation, inOrder } from '../investigation/index.ts'
import {
  areAlike,
  ErrorSensitivity,
  type Expression,
  ExpressionError,
  type ExpressionProblem,
  expressionTex,
  readExpression,
} from '../motion/index.ts'
import { leastSquares } from '../regression/index.ts'
import { type Dimension, parseUnit, rounded, unitOf } from '../units/index.ts'
import { type KnownValue, scaledSensitivity } from './known.ts'

/** Result of a calculation. */
export interface Calculated extends Estimate {
  /** Its formula in TeX, with names and with the numbers in place. */
  formula: string
  numbers: string
  sensitivity: () => ReadingSensitivity
}

/** A calculation with its result, or why there is none. */
export interface ShownCalculation {
  id: string
  calculation: Calculation
  result: Calculated | null
  error: ExpressionProblem | null
}

/** Independent of what else stands in the sheet: an error of many marks is known as well as if it had been stated. */
const KNOWN = Number.POSITIVE_INFINITY

/**
 * Returns all calculations of an investigation or a series, in order, with errors that know what their numbers have in common: marks, trials,
 * scale, clock and masses (first-order propagation with covariances, JCGM 100:2008, 5.2.2).
 *
 * @param source name of errors that belong to one mark, or one trial, in error budgets
 */
export function calculateAll(
  { calculations: all }: Pick<Investigation, 'calculations'>,
  known: readonly KnownValue[],
  source: ErrorSource = 'marks',
): ShownCalculation[] {
  const sheet: Sheet = { calculations: inOrder(all), known, source, made: new Map() }
  return sheet.calculations.map(([id, calculation]) => {
    try {
      return {
        id,
        calculation,
        result: evaluated(id, calculation, sheet, [id]).result,
        error: null,
      }
    } catch (error) {
      if (error instanceof ExpressionError) return { id, calculation, result: null, error: error.problem }
      throw error
    }
  })
}

/** Returns why a calculation that is being written can't be evaluated; null if it can. */
export function calculationProblem(
  { calculations }: Pick<Investigation, 'calculations'>,
  known: readonly KnownValue[],
  id: string,
  calculation: Calculation,
): ExpressionProblem | null {
  const changed = { ...calculations, [id]: calculation }
  const [found] = calculateAll({ calculations: changed }, known).filter((one) => one.id === id)
  return found.error
}

type Entry = readonly [string, Calculation]

interface Evaluated {
  result: Calculated
  dimension: Dimension
  factor: number
}

/** Calculations, the numbers that they can use, and what was worked out: each is once, however many stand on it. */
interface Sheet {
  calculations: readonly Entry[]
  known: readonly KnownValue[]
  /** Name of errors that belong to one mark, or one trial, in error budgets. */
  source: ErrorSource
  made: Map<string, Evaluated>
}

/** @param within calculations that are being worked out, outermost first */
function evaluated(id: string, calculation: Calculation, sheet: Sheet, within: readonly string[]): Evaluated {
  const ready = sheet.made.get(id)
  if (ready) return ready
  const weighted = /^\s*weighted\s*\((.*)\)\s*$/s.exec(calculation.expression)
  const text = weighted ? weighted[1].split(',').join(' + ') : calculation.expression
  const expression = readExpression(text)
  const numbers = expression.names.map((name) => numberCalled(name, sheet, within))
  const found = expression.dimension(numbers.map(({ dimension }) => dimension))
  const stated = parseUnit(calculation.unit)
  if (!stated) throw new ExpressionError({ code: 'unknown-unit', unit: calculation.unit })
  const isStated = calculation.unit.trim() !== ''
  if (isStated && !areAlike(stated.dimension, found))
    throw new ExpressionError({
      code: 'wrong-unit',
      found: unitOf(found, 'm'),
      wanted: calculation.unit.trim(),
    })
  const factor = isStated ? stated.factor : 1
  const sensitivities = numbers.map(({ sensitivity }) => sensitivity())
  const { value, gradient } = weighted
    ? weightedMean(expression, numbers, sensitivities)
    : expression.evaluate(numbers.map((number) => number.value))
  if (!Number.isFinite(value)) throw new ExpressionError({ code: 'division-by-zero' })
  const sensitivity = sensitivityOfSum(
    sensitivities,
    gradient.map((slope) => slope / factor),
  )
  const unit = isStated ? calculation.unit.trim() : unitOf(found, 'm')
  const tex = (of: (number: KnownValue) => string) =>
    expressionTex(text, (name) => of(numbers[expression.names.indexOf(name)]))
  const result = {
    ...estimate(value / factor, unit, partsOf(sensitivity, sheet.source)),
    formula: weighted
      ? `\\mathrm{weighted}\\left(${expression.names.map(nameTex).join(', ')}\\right)`
      : tex(({ name }) => nameTex(name)),
    numbers: weighted
      ? expression.names
          .map((_, i) => `${Number(gradient[i].toPrecision(3))}\\cdot ${numberOf(numbers[i])}`)
          .join(' + ')
      : tex(numberOf),
    sensitivity: () => sensitivity,
  }
  const done = { result, dimension: found, factor }
  sheet.made.set(id, done)
  return done
}

/** Returns a name in TeX: what follows its first underscore is a subscript. */
export function nameTex(name: string): string {
  const [first, ...below] = name.split('_')
  const upright = (text: string) => (text.length > 1 ? `\\mathrm{${text}}` : text)
  return below.length > 0 ? `${upright(first)}_{${below.map(upright).join('\\,')}}` : upright(first)
}

/** Returns a number as it stands in a formula: rounded as its error asks for, in the unit in which it is known. */
function numberOf({ value, error, factor }: KnownValue): string {
  const written = rounded(value / factor, error / factor)
    .replaceAll('−', '-')
    .replaceAll('\u00a0', '\\,')
  return written.startsWith('-') ? `(${written})` : written
}

function numberCalled(name: string, sheet: Sheet, within: readonly string[]): KnownValue {
  const [id, other] = sheet.calculations.find(([, { symbol }]) => symbol === name) ?? []
  if (id !== undefined && other) {
    if (within.includes(id))
      throw new ExpressionError({ code: 'circular', name, isDirect: within.length === 1 })
    const { result, dimension, factor } = evaluated(id, other, sheet, [...within, id])
    return {
      name,
      what: other.name,
      dimension,
      unit: result.unit,
      factor,
      value: result.value * factor,
      error: result.error * factor,
      sensitivity: () => scaledSensitivity(result.sensitivity(), factor),
    }
  }
  const number = sheet.known.find((one) => one.name === name)
  if (!number) throw new ExpressionError({ code: 'unknown-name', name })
  return number
}

/** Returns the sensitivity of a function of numbers, from its derivatives by them. */
export function sensitivityOfSum(
  sensitivities: readonly ReadingSensitivity[],
  gradient: readonly number[],
): ReadingSensitivity {
  const marks = new ErrorSensitivity()
  const common = new Map<string, { source: ErrorSource; by: number }>()
  sensitivities.forEach((one, i) => {
    one.marks.each((error, by) => {
      marks.add(error, gradient[i] * by)
    })
    for (const [key, { source, by }] of one.common)
      common.set(key, { source, by: (common.get(key)?.by ?? 0) + gradient[i] * by })
  })
  return { marks, common }
}

function partsOf({ marks, common }: ReadingSensitivity, source: ErrorSource): ErrorPart[] {
  const own: ErrorPart = { source, error: marks.size(), freedom: KNOWN }
  const shared = [...common.values()].map(({ source, by }) => ({ source, error: by, freedom: KNOWN }))
  return combinedBySource([own, ...shared]).filter(({ error }) => error > 0)
}

/**
 * Returns the mean of numbers in which those that are better known count for more, by the inverse of their covariance (Aitken
 * 1936): it is the mean whose variance is least.
 *
 * @throws ExpressionError where something else than names stands in it
 */
function weightedMean(
  { names }: Expression,
  numbers: readonly KnownValue[],
  sensitivities: readonly ReadingSensitivity[],
): { value: number; gradient: number[] } {
  if (names.length < 2) throw new ExpressionError({ code: 'weighted-names' })
  const covariance = sensitivities.map((a) => Float64Array.from(sensitivities, (b) => covarianceOf(a, b)))
  if (covariance.some((row, i) => !(row[i] > 0))) throw new ExpressionError({ code: 'weighted-errors' })
  const { parameters } = leastSquares(covariance, new Float64Array(names.length).fill(1))
  const sum = parameters.reduce((all, one) => all + one, 0)
  const gradient = Array.from(parameters, (one) => one / sum)
  return { value: gradient.reduce((all, slope, i) => all + slope * numbers[i].value, 0), gradient }
}
