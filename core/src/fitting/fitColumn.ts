import type { FitForm, ModelId, QuantityId } from '../investigation/index.ts'
import {
  COMPONENT_SYMBOLS,
  type Component,
  columnSample,
  type MotionTable,
  QUANTITIES,
  type Quantity,
  quantityUnit,
} from '../motion/index.ts'
import { applyMap, FitError, type PolynomialFit } from '../regression/index.ts'
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
  quantity: Quantity
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
  quantityId: QuantityId,
  range: { from: number; to: number },
  modelId: ModelId,
  form: FitForm = 'physics',
): ColumnFit {
  const model = MODELS[modelId]
  const quantity = QUANTITIES[quantityId]
  const column = table.columns[quantityId]
  const sample = columnSample(table, quantityId, range)
  const { rows, times, map } = sample
  const degree = model.degree - quantity.order
  if (degree < 0) throw new FitError(`${model.name} says nothing about this quantity.`)
  const polynomial = sample.fit(degree)
  const camera = cameraShares(table, quantity.component, (positions) =>
    polynomial.movedBy(map ? applyMap(map, positions) : rows.map((row) => positions[row])),
  )

  const parameter = (power: number, factor: number): Estimate => {
    const value = factor * polynomial.coefficients[power]
    const marks: ErrorPart = {
      source: 'marks',
      error: factor * Math.sqrt(polynomial.covariance[power][power]),
      freedom: polynomial.freedom,
    }
    const order = quantity.order + power
    // An angle is the same at any scale.
    const scale = quantity.component === 'turn' ? [] : scaleParts(table, value)
    const parts = [marks, ...scale, ...timingParts(table, value, order)]
    if (camera)
      parts.push({ source: 'camera', error: factor * camera[power], freedom: Number.POSITIVE_INFINITY })
    return estimate(value, quantityUnit(table.length, order, quantity.component), parts)
  }

  const named = model.parameters.slice(quantity.order)
  const described = named.map(({ symbol, subscript, name }, power) => ({
    power,
    half: form === 'physics' && power === 2,
    ...(form === 'physics'
      ? { symbol: symbol === 's' ? COMPONENT_SYMBOLS[quantity.component] : symbol, subscript, name }
      : { symbol: 'c', subscript: String(power), name: `coefficient of t to the power ${power}` }),
  }))
  return {
    model,
    quantity,
    form,
    terms: described.map(({ symbol, subscript, power, half }) => ({ symbol, subscript, power, half })),
    parameters: described.map(({ symbol, subscript, name, power, half }) => ({
      ...parameter(power, half ? 2 : 1),
      symbol,
      subscript,
      name,
    })),
    reading: {
      name:
        quantity.component === 'turn' ? `Angular ${model.reading.name.toLowerCase()}` : model.reading.name,
      ...readingOf(model, quantity, parameter),
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
  quantity: Quantity,
  parameter: (power: number, factor: number) => Estimate,
): Estimate {
  const power = model.reading.derivative - quantity.order
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
  component: Component,
  movedBy: (positions: Float64Array) => Float64Array,
): number[] | null {
  const errors = table.cameraErrors()
  if (!errors || component === 'turn') return null
  const squares: number[] = []
  for (const error of errors) {
    const positions = new Float64Array(table.frames.length)
    positions.set(error[component], error.row)
    movedBy(positions).forEach((by, power) => {
      squares[power] = (squares[power] ?? 0) + by * by
    })
  }
  return squares.map(Math.sqrt)
}
