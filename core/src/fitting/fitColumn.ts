import type { FitForm, ModelId } from '../investigation/index.ts'
import {
  alongLine,
  columnSample,
  type MotionTable,
  type PlaceColumn,
  QUANTITIES,
  type QuantityInfo,
  type Range,
} from '../motion/index.ts'
import { applyMap, FitError, type PolynomialFit } from '../regression/index.ts'
import { type Dimension, unitOf } from '../units/index.ts'
import { type ErrorPart, type Estimate, estimate } from './estimate.ts'
import { MODELS, type Model } from './models/index.ts'

/** A fitted parameter as it is shown. */
export interface FittedParameter extends Estimate {
  symbol: string
  subscript: string
  name: string
}

/** The physics that a fit says. */
export interface Reading extends Estimate {
  name: string
}

/** A model fitted to a stretch of one column. */
export interface ColumnFit {
  model: Model
  quantity: QuantityInfo
  /** Which derivative of a number of places it is. */
  order: 0 | 1 | 2
  /** Whether it is of an angle. */
  isAngle: boolean
  form: FitForm
  /** Terms of the formula in order: each parameter with the power of t and the factor that it stands with. */
  terms: { symbol: string; subscript: string; power: number; half: boolean }[]
  parameters: FittedParameter[]
  reading: Reading
  polynomial: PolynomialFit
  /** Root mean square of the residuals, √(RSS/n), in the column's unit. */
  unit: string
  /** Times of the first and last point. */
  from: number
  to: number
  /** Breaks that lie between its points: it is one motion no more. */
  breaks: number
}

/**
 * Fits a model of motion to the points of a column between two frames. A derived column is fitted by
 * generalised least squares with the covariance that sharing marks gives its points. Every parameter
 * is a length over seconds to some power, so the scale's relative error carries over to each as it is, and the clock's as often as
 * seconds stand below the length.
 *
 * @throws FitError where the points cannot carry the model; its message is for the person
 */
export function fitColumn(
  table: MotionTable,
  quantityId: string,
  range: Range,
  modelId: ModelId,
  form: FitForm = 'physics',
): ColumnFit {
  const model = MODELS[modelId]
  const line = alongLine(quantityId)
  if (!line) throw new FitError('No model of motion says anything about this quantity.')
  const { place, order: derived } = line
  const quantity = QUANTITIES[quantityId as keyof typeof QUANTITIES]
  const isAngle = place.dimension.angle !== 0
  const column = table.column(quantityId)
  const sample = columnSample(table, quantityId, range)
  const { rows, times, map } = sample
  const degree = model.degree - derived
  if (degree < 0) throw new FitError(`${model.name} says nothing about this quantity.`)
  const polynomial = sample.fit(degree)
  const camera = cameraShares(table, column.place, (numbers) =>
    polynomial.movedBy(map ? applyMap(map, numbers) : sample.places.map((i) => numbers[i])),
  )

  const parameter = (power: number, factor: number): Estimate => {
    const value = factor * polynomial.coefficients[power]
    const marks: ErrorPart = {
      source: 'marks',
      error: factor * Math.sqrt(polynomial.covariance[power][power]),
      freedom: polynomial.freedom,
    }
    const order = derived + power
    // An angle is the same at any scale.
    const scale = isAngle ? [] : scaleParts(table, value)
    const parts = [marks, ...scale, ...timingParts(table, value, order)]
    if (camera)
      parts.push({ source: 'camera', error: factor * camera[power], freedom: Number.POSITIVE_INFINITY })
    return estimate(value, unitOf(per(place.dimension, order), table.length), parts)
  }

  const named = model.parameters.slice(derived)
  const described = named.map(({ symbol, subscript, name }, power) => ({
    power,
    half: form === 'physics' && power === 2,
    ...(form === 'physics'
      ? { symbol: symbol === 's' ? place.letter : symbol, subscript, name }
      : { symbol: 'c', subscript: String(power), name: `coefficient of t to the power ${power}` }),
  }))
  return {
    model,
    ...{ quantity, order: derived, isAngle, form },
    terms: described.map(({ symbol, subscript, power, half }) => ({ symbol, subscript, power, half })),
    parameters: described.map(({ symbol, subscript, name, power, half }) => ({
      ...parameter(power, half ? 2 : 1),
      symbol,
      subscript,
      name,
    })),
    reading: {
      name: isAngle ? `Angular ${model.reading.name.toLowerCase()}` : model.reading.name,
      ...readingOf(model, derived, parameter),
    },
    polynomial,
    unit: column.unit,
    from: times[0],
    to: times[times.length - 1],
    breaks: [...table.breaks].filter((row) => row > rows[0] && row <= rows[rows.length - 1]).length,
  }
}

/** Coefficient k of the quantity's polynomial times k! is the derivative that the model is fitted for. */
function readingOf(
  model: Model,
  order: number,
  parameter: (power: number, factor: number) => Estimate,
): Estimate {
  const power = model.reading.derivative - order
  return parameter(power, power === 2 ? 2 : 1)
}

/** With all times longer by a share, a length over secondsⁿ is smaller by n shares. */
function timingParts({ rateError }: MotionTable, value: number, order: number): ErrorPart[] {
  if (order === 0) return []
  return [{ source: 'timing', error: Math.abs(value) * order * rateError, freedom: Number.POSITIVE_INFINITY }]
}

function scaleParts({ scale }: MotionTable, value: number): ErrorPart[] {
  return (scale?.parts ?? []).map((part) => ({ ...part, error: Math.abs(value) * part.error }))
}

/**
 * Standard errors of a fit's coefficients that come from the landmarks: each of their errors moves many
 * positions at once, and the fit is linear in them. Null where the camera stood still.
 */
function cameraShares(
  table: MotionTable,
  place: PlaceColumn | null,
  movedBy: (numbers: number[]) => Float64Array,
): number[] | null {
  const errors = table.cameraErrors()
  // What lies between two points of one picture hardly moves with the camera.
  if (!errors || !place || place.quantity.needs.includes('second')) return null
  const squares: number[] = []
  for (const { row: first, x, y } of errors) {
    const numbers = place.rows.map((row, i) => {
      const at = row - first
      return at >= 0 && at < x.length ? place.slopes[i][0] * x[at] + place.slopes[i][1] * y[at] : 0
    })
    movedBy(numbers).forEach((by, power) => {
      squares[power] = (squares[power] ?? 0) + by * by
    })
  }
  return squares.map(Math.sqrt)
}

/** The dimension of a derivative. */
function per(dimension: Dimension, order: number): Dimension {
  return { ...dimension, time: dimension.time - order }
}
