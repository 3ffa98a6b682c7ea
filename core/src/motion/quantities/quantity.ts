import type { Point } from '../../geometry/index.ts'
import type { QuantityId } from '../../investigation/index.ts'
import type { Dimension } from '../../units/index.ts'
import type { ExpressionProblem } from '../custom/expressionError.ts'
import { commonError } from '../errorSensitivity.ts'

/** Constants of a body and its scene that quantities depend on besides its positions. */
export interface BodyConstants {
  /** Number of the body among the others. */
  number: number
  /** Mass (kg) and its standard error; NaN if not stated. */
  mass: number
  massError: number
  /** Acceleration of free fall in the table's length unit / s², and its standard error; NaN if lengths are in pixels. */
  g: number
  gError: number
  /** Unit vector of gravity in the axes. */
  down: Point
  /** Unit vector of the chosen direction in the axes. */
  along: Point
}

/** What a quantity requires. */
export type Need = 'mass' | 'masses' | 'scale' | 'second' | 'other'

/** A value with its first derivatives. */
export interface Linearised {
  value: number
  /** By each input, in their order. */
  gradient: readonly number[]
  /** Pairs of the number of an error that belongs to no mark (see `commonError`), and the change of the value by one standard error of it. */
  common?: readonly (readonly [number, number])[]
}

/** Description of a quantity. */
export interface QuantityInfo {
  /** UUID for a custom quantity. */
  id: string
  /** Symbol, and its subscript apart. */
  symbol: string
  subscript: string
  name: string
  /** Expression of a custom quantity. */
  expression?: string
  dimension: Dimension
  /** Unit if it is not the one of the dimension. */
  unit?: string
  /** Which component it is; decides the style of its points. */
  direction: 'x' | 'y' | 'size'
  needs: readonly Need[]
}

/** A quantity of a body's position in a single frame. */
export interface PositionQuantity extends QuantityInfo {
  id: QuantityId
  kind: 'position'
  /** Letter of its value at t = 0 in a formula. */
  letter: string
  /** Whether it is an angle that is continued over whole turns. */
  turns: boolean
  /**
   * @param place of the body's point, in the table's length unit
   * @param second the body's second point; null if there is none
   * @returns gradient by x and y of the point, then of the second point if it counts; null if there is no value
   */
  evaluate(place: Point, constants: BodyConstants, second: Point | null): Linearised | null
}

/** A time derivative of a position quantity. */
export interface DerivativeQuantity extends QuantityInfo {
  id: QuantityId
  kind: 'derivative'
  of: QuantityId
  order: 1 | 2
}

/** A quantity that follows from others of the same body at the same time. */
export interface DerivedQuantity extends QuantityInfo {
  kind: 'derived'
  /** Ids of the others; "t" is the time. */
  from: readonly string[]
  /**
   * @param values of `from`
   * @param errors standard errors of `values`
   * @returns gradient by `values`; null if there is no value
   */
  evaluate(values: readonly number[], constants: BodyConstants, errors: readonly number[]): Linearised | null
}

/** A custom quantity that can be derived, or the reason why it can't be. */
export type CustomDefinition =
  | { quantity: DerivedQuantity; error: null }
  | { quantity: null; error: ExpressionProblem }

/** A quantity that follows from the same quantities of several bodies at the same time. */
export interface MultiBodyQuantity extends QuantityInfo {
  id: QuantityId
  kind: 'multiBody'
  /** Whether of the body and another one, or of all bodies. */
  among: 'pair' | 'all'
  from: readonly QuantityId[]
  /**
   * @param values `values[b][k]` is `from[k]` of body b
   * @returns gradient by all values, body by body; null if there is no value
   */
  evaluate(values: readonly (readonly number[])[], constants: readonly BodyConstants[]): Linearised | null
}

/** Length of a body's path since its first mark. */
export interface PathQuantity extends QuantityInfo {
  id: QuantityId
  kind: 'path'
}

/** A quantity of any kind. */
export type Quantity =
  | PositionQuantity
  | DerivativeQuantity
  | DerivedQuantity
  | MultiBodyQuantity
  | PathQuantity

/** A vector shorter than this many of its standard errors has no direction. */
export const DIRECTION_THRESHOLD = 2

const DIMENSION: Dimension = { mass: 0, length: 0, time: 0, angle: 0 }

/** Returns a dimension from the exponents that are not 0. */
export function dimension(powers: Partial<Dimension>): Dimension {
  return { ...DIMENSION, ...powers }
}

/** Returns the sensitivity of a number to the error of a body's mass, given its derivative by the mass; empty without an error. */
export function massSensitivity(
  { number, massError }: BodyConstants,
  slope: number,
): readonly (readonly [number, number])[] {
  return massError > 0 ? [[commonError.mass(number), slope * massError]] : []
}

/** Returns the sensitivity of a number to the error of g, given its derivative by g; empty without an error. */
export function freeFallSensitivity(
  { gError }: BodyConstants,
  slope: number,
): readonly (readonly [number, number])[] {
  return gError > 0 ? [[commonError.freeFall, slope * gError]] : []
}
