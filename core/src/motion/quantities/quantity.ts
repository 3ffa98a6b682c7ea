import type { Point } from '../../geometry/index.ts'
import type { QuantityId } from '../../investigation/index.ts'
import type { Dimension } from '../../units/index.ts'
import { commonError } from '../errorSensitivity.ts'

/** What positions, rates and energies refer to, beside the motion itself. */
export interface BodyConstants {
  /** Number of the body among the others. */
  number: number
  /** Of the body, in kilograms, and its standard error; NaN where nobody has said it. */
  mass: number
  massError: number
  /** Acceleration of free fall in the table's unit of length, and its standard error; NaN where lengths are in pixels. */
  g: number
  gError: number
  /** Unit vector along which things fall, in the scene's axes. */
  down: Point
  /** Unit vector of the chosen direction, in the scene's axes. */
  along: Point
}

/** What must be there for a quantity: without it the quantity asks for it. */
export type Need = 'mass' | 'masses' | 'scale' | 'second' | 'other'

/** A value, and how it changes with each number that it is made of. */
export interface Linearised {
  value: number
  gradient: readonly number[]
  /** Errors that no mark has, by their number (see `commonError`), and what it moves by where they are one standard error. */
  common?: readonly (readonly [number, number])[]
}

/** What every quantity says of itself. */
export interface QuantityInfo {
  /** Of a quantity that somebody has defined: its UUID. */
  id: string
  /** Symbol, with what is set below the line apart. */
  symbol: string
  subscript: string
  name: string
  /** What it is, for the person who asks. */
  definition: string
  dimension: Dimension
  /** Unit where it is not the one that the dimension has. */
  unit?: string
  /** Which component it is; decides how its points are drawn. */
  direction: 'x' | 'y' | 'size'
  needs: readonly Need[]
}

/** A number that a body's place in one frame has by itself. */
export interface PositionQuantity extends QuantityInfo {
  id: QuantityId
  kind: 'position'
  /** What its value at t = 0 is called in a formula. */
  letter: string
  /** Whether it is an angle that goes on over whole turns. */
  turns: boolean
  /**
   * @param second the body's second point, where there is one
   * @returns slopes by the place's x and y, then by the second point's where it counts; null where it has no value
   */
  at(place: Point, constants: BodyConstants, second: Point | null): Linearised | null
}

/** A derivative of a number that a place has. */
export interface DerivativeQuantity extends QuantityInfo {
  id: QuantityId
  kind: 'derivative'
  of: QuantityId
  order: 1 | 2
}

/** What follows from other quantities of the same moment. */
export interface DerivedQuantity extends QuantityInfo {
  kind: 'derived'
  /** Ids of what it follows from; "t" is the time. */
  from: readonly string[]
  /**
   * @param values of what it follows from
   * @param errors standard errors of those
   * @returns slopes by each of them; null where it has no value
   */
  at(values: readonly number[], constants: BodyConstants, errors: readonly number[]): Linearised | null
}

/** What follows from the same quantities of several bodies at the same moment. */
export interface MultiBodyQuantity extends QuantityInfo {
  id: QuantityId
  kind: 'multiBody'
  /** Of the body and another one, or of all bodies. */
  among: 'pair' | 'all'
  from: readonly QuantityId[]
  /**
   * @param values of each body, one after the other
   * @returns slopes in the same order
   */
  at(values: readonly (readonly number[])[], constants: readonly BodyConstants[]): Linearised | null
}

/** The way that a body has gone since its first mark. */
export interface PathQuantity extends QuantityInfo {
  id: QuantityId
  kind: 'path'
}

/** A column of numbers over time. */
export type Quantity =
  | PositionQuantity
  | DerivativeQuantity
  | DerivedQuantity
  | MultiBodyQuantity
  | PathQuantity

/** Speeds and lengths below so many of their standard errors have no direction to speak of. */
export const DIRECTION_THRESHOLD = 2

const DIMENSION: Dimension = { mass: 0, length: 0, time: 0, angle: 0 }

/** A dimension by the powers that are not 0. */
export function dimension(powers: Partial<Dimension>): Dimension {
  return { ...DIMENSION, ...powers }
}

/** How a number goes with the error of a body's mass: nothing where that has none. */
export function massSensitivity(
  { number, massError }: BodyConstants,
  slope: number,
): readonly (readonly [number, number])[] {
  return massError > 0 ? [[commonError.mass(number), slope * massError]] : []
}

/** How a number goes with the error of g. */
export function freeFallSensitivity(
  { gError }: BodyConstants,
  slope: number,
): readonly (readonly [number, number])[] {
  return gError > 0 ? [[commonError.freeFall, slope * gError]] : []
}
