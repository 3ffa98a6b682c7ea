import { ErrorSensitivity, once, type QuantityInfo } from '../motion/index.ts'
import {
  diagonalWhitening,
  dotProduct,
  FitError,
  fitRelation,
  maxCurvature,
  type PointCovariance,
  type Relation,
  type RelationFit,
} from '../regression/index.ts'
import type { Dimension, LengthUnit } from '../units/index.ts'
import { ErrorPropagation } from './errorPropagation.ts'
import type { ErrorSource } from './estimate.ts'
import { columnFit } from './fitColumn.ts'
import type { ColumnFit, FitSettings } from './fitResult.ts'
import type { FitSolution } from './fitSolution.ts'
import { AS_KNOWN, type Law, type LoopLaw, MODELS } from './models/index.ts'
import type { FitSample, Shift } from './sample.ts'
import { loopOf, relationOf } from './settings.ts'
import { fitPoints } from './solve.ts'

/** Number of points at which a closed curve is drawn. */
const TRACED = 160

/** One of the two quantities of a relation. */
interface RelationQuantity {
  info: QuantityInfo
  dimension: Dimension
  unit: string
}

/** Points of two quantities that both have errors; all lists have length n. */
export interface RelationPoints {
  quantityX: RelationQuantity
  quantityY: RelationQuantity
  /** Unit in which lengths are. */
  length: LengthUnit
  /** Row of the table, and frame, of each. */
  rows: number[]
  frames: number[]
  x: Float64Array
  y: Float64Array
  /** Standard errors of `y`, independent of those that all points share. */
  errorsY: Float64Array
  /** Sensitivity of each point's quantities to independent errors of unit variance. */
  sensitivityX: ErrorSensitivity[]
  sensitivityY: ErrorSensitivity[]
  covariances: PointCovariance[]
  /** Changes of each quantity by one standard error of each error that all points share. */
  shiftsX: Shift[]
  shiftsY: Shift[]
}

/**
 * Fits a relation to points of two quantities. Independent errors weigh the points; those that several points have in common count in
 * the errors of the parameters.
 *
 * @param source name of the independent errors in the error budget
 * @throws FitError if the points do not determine it; ExpressionError for a free form that is wrong
 */
export function fitRelationPoints(
  points: RelationPoints,
  settings: FitSettings,
  source: ErrorSource = 'marks',
): ColumnFit {
  const { quantityX, quantityY, x, y, rows } = points
  if (rows.length === 0) throw new FitError({ code: 'no-point-in-stretch' })
  const model = MODELS[settings.model]
  const loop = model.loop?.(loopOf(quantityY.info, quantityX.info)) ?? null
  const law = loop
    ? null
    : model.law({
        ...relationOf(quantityY.info, quantityX.info),
        expression: settings.expression ?? '',
        start: settings.start ?? {},
      })
  if (!loop && !law) throw new FitError({ code: 'model-does-not-apply', model: model.name })
  const count = (loop ?? law!).parameters.length
  if (rows.length < count) throw new FitError({ code: 'too-few-points', needed: count, points: rows.length })
  const relation = loop ?? explicit(law!)
  const start = loop ? loop.begin(x, y) : startOf(law!, x, y)
  const found = fitRelation(relation, start, points)
  const shownLaw = loop ? closed(loop, quantityY.info.symbol) : { ...law!, zero: 0 }
  const { solution, sample } = solutionOf(found, points, shownLaw)
  const fit = columnFit(
    {
      length: points.length,
      model,
      law: shownLaw,
      sample,
      column: quantityY,
      order: null,
      isAngle: quantityX.dimension.angle !== 0,
      against: { dimension: quantityX.dimension, unit: quantityX.unit, symbol: quantityX.info.symbol },
    },
    solution,
    new ErrorPropagation(solution, source),
    0,
    new Map(),
  )
  const traced = loop
    ? Array.from({ length: TRACED + 1 }, (_, i) => loop.trace(found.parameters, (2 * Math.PI * i) / TRACED))
    : null
  return {
    ...fit,
    roomInBend: once(() => 1 / (solution.birgeFactor * maxCurvature(relation, found, traced))),
    ...(traced && { rSquared: Number.NaN, residualUnit: 'standard errors', loop: traced }),
  }
}

/** Returns a law that tells the one quantity by the other, as a relation. */
function explicit(law: Law): Relation {
  const curveAt = (place: number, parameters: Float64Array, slopes: Float64Array[] | null) => {
    const value = new Float64Array(1)
    law.on([place])(parameters, value, slopes)
    return value[0]
  }
  return {
    evaluate: (x, y, parameters) => {
      const given = Float64Array.from(parameters)
      const slopes = law.parameters.map(() => new Float64Array(1))
      const value = curveAt(x, given, slopes)
      const step = 1e-5 * (Math.abs(x) || 1)
      const [before, behind] = [x - step, x + step].map((place) => curveAt(place, given, null))
      return {
        value: y - value,
        byX: (before - behind) / (2 * step),
        byY: 1,
        secondX: (2 * value - before - behind) / (step * step),
        secondY: 0,
        byParameters: slopes.map(([slope]) => -slope),
      }
    },
  }
}

/** Returns what a law's parameters, at places from 0, are where only the one quantity is taken to have errors. */
function startOf(law: Law, x: Float64Array, y: Float64Array): number[] {
  const order = Array.from(x, (_, i) => i).sort((a, b) => x[a] - x[b])
  const sorted = (all: Float64Array) => Float64Array.from(order, (i) => all[i])
  const { parameters, members } = fitPoints(law, sorted(x), sorted(y))
  return law.fromShown(members[0].shownParameters(parameters), 0)
}

/**
 * Covariance of the parameters for errors that points share, by one standard error of each, and how many points'
 * worth of scatter is left beside them: each point was weighed by itself, what they share is in here (Huber 1967, White,
 * Econometrica 48 (1980) 817, for what such an estimate scatters by).
 */
function sharedCovariance(
  { cofactors, whitenedJacobian: columns, byX, byY, errors }: RelationFit,
  { sensitivityX, sensitivityY }: RelationPoints,
): { covariance: Float64Array[]; freedom: number } {
  const onErrors = columns.map((column) => {
    const sum = new ErrorSensitivity()
    column.forEach((slope, i) => {
      const by = slope / errors[i]
      sensitivityX[i].each((error, of) => sum.add(error, by * byX[i] * of))
      sensitivityY[i].each((error, of) => sum.add(error, by * byY[i] * of))
    })
    return sum
  })
  const middle = onErrors.map((a) => Float64Array.from(onErrors, (b) => a.productWith(b)))
  const half = cofactors.map((row) =>
    Float64Array.from(cofactors, (_, j) => row.reduce((sum, one, k) => sum + one * middle[k][j], 0)),
  )
  const covariance = half.map((row) => Float64Array.from(cofactors, (other) => dotProduct(row, other)))
  const taken = half.reduce((sum, row, k) => sum + row[k], 0)
  return { covariance, freedom: columns[0].length - taken }
}

/** Returns a closed curve as what is told of a fit needs it: it has no value by what it stands against. */
function closed({ formula, parameters, readings }: LoopLaw, value: string): Law {
  const nothing = () => {
    throw new FitError({ code: 'closed-curve' })
  }
  return {
    parameters,
    readings,
    linear: [],
    begin: nothing,
    ...AS_KNOWN,
    formula: (given, variable) => formula(given, variable, value),
    on: () => (_, values) => values.fill(Number.NaN),
  }
}

/** Returns the fit in the shape that all fits have. */
function solutionOf(
  found: RelationFit,
  points: RelationPoints,
  law: Law,
): { solution: FitSolution; sample: FitSample } {
  const { rows, x, y } = points
  const { parameters, cofactors, whitenedJacobian: columns, errors, rss, whitenedResiduals: white } = found
  const count = rows.length
  const { covariance, freedom } = sharedCovariance(found, points)
  const isTold = freedom > 0.5 && count > parameters.length
  const variance = isTold ? rss / freedom : Number.NaN
  const birgeFactor = Number.isFinite(variance) ? Math.sqrt(variance) : 1
  const sample = sampleOf(found, points)
  const isExplicit = Number.isFinite(valueAt(law, parameters, x[0]))
  const solution: FitSolution = {
    parameters,
    points: count,
    rss,
    birgeFactor,
    weights: null,
    whitenedResiduals: white,
    effectivePoints: count,
    varianceInflation: 1,
    freedom: isTold ? Math.round(freedom) : 0,
    covariance: covariance.map((row) => row.map((one) => one * variance)),
    reducedChiSquare: isTold ? variance : null,
    parameterShift: ([change]) => {
      const changed = change.map((by, i) => by / errors[i])
      const pull = Float64Array.from(columns, (column) => -dotProduct(column, changed))
      return Float64Array.from(cofactors, (row) => dotProduct(row, pull))
    },
    pointInfluence: (weights) => {
      const pulls = new Float64Array(count)
      cofactors.forEach((_, k) => {
        const by = -cofactors.reduce((sum, row, j) => sum + weights[j] * row[k], 0)
        for (let i = 0; i < count; i++) pulls[i] += (by * columns[k][i]) / errors[i]
      })
      return [pulls]
    },
    members: [
      {
        law,
        sample,
        zero: 0,
        indices: Array.from(parameters, (_, k) => k),
        // Of a closed curve in standard errors: a distance across it has no unit of its own.
        residuals: isExplicit
          ? Float64Array.from(y, (value, i) => value - valueAt(law, parameters, x[i]))
          : white,
        valuesAt: (given, places) => Float64Array.from(places, (place) => valueAt(law, given, place)),
        shownParameters: (given) => law.toShown(Array.from(given), 0),
      },
    ],
  }
  return { solution, sample }
}

/** Returns the points of a relation as those of a fit along x: their errors are those perpendicular to the curve. */
function sampleOf({ byX, byY, errors }: RelationFit, points: RelationPoints): FitSample {
  const { rows, frames, x, y, errorsY, sensitivityX, sensitivityY } = points
  return {
    rows,
    frames,
    places: x,
    values: y,
    breaks: [],
    derivation: null,
    smoothed: null,
    driftCorrelation: null,
    whiten: diagonalWhitening(errors),
    errors: errorsY,
    shifts: shiftsAcross(points, { byX, byY }),
    addSensitivity: (i, factor, into) => {
      sensitivityX[i].each((error, by) => into.add(error, factor * byX[i] * by))
      sensitivityY[i].each((error, by) => into.add(error, factor * byY[i] * by))
    },
  }
}

function valueAt(law: Law, parameters: ArrayLike<number>, place: number): number {
  const value = new Float64Array(1)
  law.on([place])(Float64Array.from(parameters), value, null)
  return value[0]
}

/** Errors that all points share, as what they move the points off the curve by. */
function shiftsAcross(
  { shiftsX, shiftsY }: RelationPoints,
  { byX, byY }: Pick<RelationFit, 'byX' | 'byY'>,
): Shift[] {
  const keys = [...new Set([...shiftsX, ...shiftsY].map(({ key }) => key))]
  return keys.map((key): Shift => {
    const [shiftX, shiftY] = [shiftsX, shiftsY].map((all) => all.find((shift) => shift.key === key))
    return {
      ...(shiftX ?? shiftY)!,
      // Neither quantity is the time: what grows with it has grown in its values.
      timeScale: 0,
      values: byX.map((slope, i) => slope * (shiftX?.values[i] ?? 0) + byY[i] * (shiftY?.values[i] ?? 0)),
    }
  })
}
