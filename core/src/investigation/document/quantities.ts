export const QUANTITY_IDS = [
  'x',
  'y',
  'r',
  's',
  'path',
  'theta',
  'turn',
  'vx',
  'vy',
  'v',
  'heading',
  'omega',
  'spin',
  'ax',
  'ay',
  'a',
  'at',
  'ac',
  'felt',
  'px',
  'py',
  'p',
  'Ek',
  'Ep',
  'E',
  'cmx',
  'cmy',
  'cmvx',
  'cmvy',
  'sumPx',
  'sumPy',
  'sumP',
  'sumEk',
  'd',
  'bearing',
] as const
export type QuantityId = (typeof QUANTITY_IDS)[number]

export const DERIVATIVE_IDS = ['three-point', 'parabola', 'cubic', 'spline'] as const
export type DerivativeId = (typeof DERIVATIVE_IDS)[number]

/** How velocity and acceleration are derived from positions. */
export interface Derivation {
  method: DerivativeId
  /** Points on either side that are used, where the method has a choice. */
  reach: number
  /** Whether nearer points count more than those at the ends of the window. */
  weighted: boolean
}

/** Points on either side that can be chosen for a derivative. */
export const REACH = { least: 1, default: 3, most: 25 } as const

/** Time, as a graph's horizontal quantity. */
export const TIME = 't'

/** A number of the investigation by a name, for quantities that somebody defines. */
export interface Constant {
  order: number
  /** As it stands in expressions. */
  name: string
  value: number
  /** Standard error. */
  error: number
  unit: string
}

/** Characters that an expression may have. */
export const MOST_EXPRESSION = 2000

/** A quantity that somebody has defined. */
export interface CustomQuantity {
  order: number
  name: string
  symbol: string
  /** Empty: the one that follows from the expression. */
  unit: string
  expression: string
}
