import type { ModelId } from '../../investigation/index.ts'
import type { Evaluate, Relation } from '../../regression/index.ts'

/** Kinds of motion, in the order in which they are listed. */
export const MODEL_GROUPS = {
  rest: 'At rest',
  uniform: 'Uniform',
  accelerated: 'Uniformly accelerated',
  changing: 'Changing acceleration',
  settling: 'Slowing down and settling',
  swinging: 'Swinging',
  'before-and-after': 'Before and after',
  relation: 'Relations',
  own: 'Your own',
} as const
export type ModelGroup = keyof typeof MODEL_GROUPS

/** A model of motion, or of the relation of two quantities. */
export interface Model {
  id: ModelId
  name: string
  group: ModelGroup
  /** Returns its law for a kind of column; null if it has none. */
  law(setting: Setting): Law | null
  /** Returns its closed curve for two quantities against each other; null, or left out, if it has none. */
  loop?(setting: LoopSetting): LoopLaw | null
}

/** The two quantities of a closed curve. */
export interface LoopSetting {
  /** Whether the one on the y axis is the derivative of the other. */
  isRateOf: boolean
  /** Whether they are an angle and its derivative. */
  isAngle: boolean
}

/** A stretch that is too short for what was found: it lasts so many periods, or so many of its time constants. */
export type ShortStretch =
  | { code: 'few-periods'; periods: number }
  | { code: 'few-time-constants'; count: number }

/** A closed curve in the plane of two quantities. */
export interface LoopLaw extends Relation {
  /** Returns TeX of the relation. */
  formula(parameters: readonly string[], along: string, value: string): string
  parameters: LawParameter[]
  readings: LawReading[]
  /** Returns initial parameters from points. */
  begin(x: Float64Array, y: Float64Array): number[]
  /** Returns a point of the curve by an angle (rad) that goes once round. */
  trace(parameters: ArrayLike<number>, turn: number): { x: number; y: number }
}

/** The column, or relation, for which a law is made. */
export interface Setting {
  /** Order of the derivative of a position: 0 for the position itself; null for any other column. */
  order: 0 | 1 | 2 | null
  /** Letter of that position in formulas, or symbol of the column. */
  letter: string
  /** Whether the column is an angle or a derivative of one. */
  isAngle: boolean
  form: 'physics' | 'coefficients'
  /** Times of breaks within the stretch (s). */
  breaks: readonly number[]
  /** Name of the abscissa in a free form. */
  variable: string
  /** Expression of a free form, and initial values by parameter name. */
  expression: string
  start: Readonly<Record<string, number>>
}

/** An unknown column against time, with physical parameters. */
export const PLAIN: Setting = {
  order: null,
  letter: 'y',
  isAngle: false,
  form: 'physics',
  breaks: [],
  variable: 't',
  expression: '',
  start: {},
}

/** Returns the letter of a column in formulas: v, a, ω, α for derivatives. */
export function letterOf({ order, letter, isAngle }: Setting): string {
  if (order === 1) return isAngle ? 'ω' : 'v'
  if (order === 2) return isAngle ? 'α' : 'a'
  return letter
}

/** Dimension of a number as powers of the column's dimension, of the abscissa's, and of angle. */
export interface Exponents {
  value?: number
  along?: number
  angle?: number
}

/** A parameter in the form in which people know it. */
export interface LawParameter {
  symbol: string
  subscript: string
  name: string
  /** Null if unknown, as for a free form. */
  dimension: Exponents | null
  /** Whether it is an angle modulo whole turns. */
  turns?: boolean
}

/** The stretch in which a reading is taken. */
export interface Where {
  /** First and last abscissa. */
  from: number
  to: number
}

/** A physical quantity that follows from the parameters of a law. */
export interface LawReading {
  key: string
  name: string
  symbol: string
  subscript: string
  dimension: Exponents | null
  /** Whether the unit is written Hz instead of 1/s. */
  isFrequency?: boolean
  /** Returns its value; not finite if there is none, such as a turning point that does not exist. */
  of(shown: readonly number[], where: Where): number
}

/** Initial parameters to try, and bounds. */
export interface Beginning {
  starts: number[][]
  lower?: number[]
  upper?: number[]
}

/**
 * A model's function for one kind of column. Internal parameters refer to an abscissa `zero` in the middle of the points, where
 * they are least correlated; shown parameters refer to 0.
 */
export interface Law {
  /** Name for this kind of column if it differs from the model's. */
  name?: string
  /** Returns TeX of the function, with the parameters as given: symbols or numbers. */
  formula(parameters: readonly string[], along: string): string
  parameters: LawParameter[]
  readings: LawReading[]
  /** Indices of internal parameters in which it is jointly linear. */
  linear: number[]
  /** Returns the evaluation at abscissas relative to `zero`. */
  on(places: ArrayLike<number>): Evaluate
  /**
   * Returns initial internal parameters from points with abscissas relative to `zero`.
   *
   * @throws FitError if none can be found
   */
  begin(places: Float64Array, values: Float64Array): Beginning
  /** Converts internal parameters to shown ones. */
  toShown(internal: readonly number[], zero: number): number[]
  /** Converts shown parameters to internal ones. */
  fromShown(shown: readonly number[], zero: number): number[]
  /** Whether it goes through zero: R² is then not about the mean. */
  isThroughZero?: boolean
  /** Whether it allows for breaks within the stretch. */
  knowsBreaks?: boolean
  /** Number of independent alternatives (positions, frequencies) among which a fit to n points chooses the best. */
  choices?(n: number): number
  /** Whether it has a kink at a fitted abscissa. */
  hasCorners?: boolean
  /** `zero` if it has to be a certain one. */
  zero?: number
  /** Returns how short the stretch is if it is too short for what was found; null otherwise. */
  doubt?(shown: readonly number[], where: Where): ShortStretch | null
  /** @throws FitError if points at these abscissas leave the parameters undetermined */
  check?(internal: ArrayLike<number>, places: Float64Array): void
}

/** Parts of a law whose internal parameters are the shown ones, relative to 0. */
export const AS_KNOWN: Required<Pick<Law, 'zero' | 'toShown' | 'fromShown'>> = {
  zero: 0,
  toShown: (internal) => [...internal],
  fromShown: (shown) => [...shown],
}
