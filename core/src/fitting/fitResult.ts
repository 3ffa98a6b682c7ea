import type { Fit } from '../investigation/index.ts'
import type { ErrorSensitivity, MotionTable, QuantityInfo } from '../motion/index.ts'
import type { ErrorSource, Estimate } from './estimate.ts'
import type { FitSolution } from './fitSolution.ts'
import type { Law, Model } from './models/index.ts'

/** The settings of a fit that affect its result. */
export type FitSettings = Pick<Fit, 'model'> &
  Partial<Pick<Fit, 'form' | 'robust' | 'expression' | 'start' | 'fixed' | 'shared'>>

/** A fitted parameter as it is shown. */
export interface FittedParameter extends Estimate {
  /** Symbol and subscript: identifies it where parameters are fixed or shared. */
  key: string
  symbol: string
  subscript: string
  name: string
  /** Whether a person has fixed its value. */
  isFixed: boolean
  /** Factor from its unit to the unit in which fixed values are stored. */
  kept: number
}

/** A physical quantity read from a fit. */
export interface Reading extends Estimate {
  key: string
  /** Sensitivity to each error that it may share with other readings (lazy), in the reading's unit per standard error. */
  sensitivity: () => ReadingSensitivity
  name: string
  symbol: string
  subscript: string
}

/** Sensitivities of a reading, per standard error: to the errors of the marks, and to shared errors by their keys. */
export interface ReadingSensitivity {
  marks: ErrorSensitivity
  common: ReadonlyMap<string, { source: ErrorSource; by: number }>
}

/** A column to be fitted. */
export interface Fitted {
  table: MotionTable
  quantity: string
  model: Fit['model']
}

/** Residual of a point, and its weight in the fit. */
interface Residual {
  row: number
  frame: number
  place: number
  value: number
  weight: number
}

/** A law fitted to a stretch of one column, by itself or together with others. */
export interface ColumnFit {
  /** Index among the columns that are fitted together. */
  member: number
  model: Model
  law: Law
  name: string
  quantity: QuantityInfo
  /** Which derivative of a position the column is; null: none. */
  order: 0 | 1 | 2 | null
  /** Whether the column is an angle or its derivative. */
  isAngle: boolean
  /** TeX of the law with symbols, and with numbers; empty for a free form. */
  formula: string
  numbers: string
  parameters: FittedParameter[]
  /** Readings of the law, the main one first. */
  readings: Reading[]
  reading: Reading
  points: number
  /** Degrees of freedom: effective number of points minus number of parameters. */
  freedom: number
  /** Root mean square of the residuals, √(RSS/n), in `residualUnit`. */
  rmse: number
  residuals: () => Residual[]
  /** R², about zero if the law goes through zero, otherwise about the mean; NaN for a closed curve. */
  rSquared: number
  isThroughZero: boolean
  unit: string
  /** Unit of the residuals: `unit`, or standard errors for a closed curve, whose distance from a point has no unit. */
  residualUnit: string
  /** Least and greatest abscissa, and its unit. */
  from: number
  to: number
  placeUnit: string
  /** Number of breaks within the stretch that the law does not allow for. */
  breaks: number
  solution: FitSolution
  /** Returns a function of the parameters of all columns with its error budget. */
  estimate(
    of: (parameters: ArrayLike<number>) => number,
    unit: string,
  ): Estimate & Pick<Reading, 'sensitivity'>
  valueAt(place: number): number
  /** Points of a closed curve, once round; null for any other. */
  loop: { x: number; y: number }[] | null
  /** Least radius of curvature of a path at the points, in standard errors of a point; null for a fit against time. */
  roomInBend: (() => number) | null
  /** Returns the standard error of the curve due to the marks. */
  errorAt(place: number): number
  /** Returns the standard error of a new point about the curve: of the curve, and the scatter of the points. */
  predictionErrorAt(place: number): number
  /** Correlation matrix of the parameters due to the marks; NaN for a fixed one. */
  correlations: () => number[][]
  /** Returns value and slope at an abscissa, with their error budgets. */
  at(place: number): { value: Estimate; slope: Estimate }
  /** Returns the times at which the curve has a value, within one length of the stretch on either side, and the slopes there. */
  meets(level: number): { time: Estimate; slope: Estimate }[]
}
