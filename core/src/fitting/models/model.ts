import type { ModelId } from '../../investigation/index.ts'
import type { Evaluate, Relation } from '../../regression/index.ts'

/** Kinds of motion, in the order in which models are offered. */
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

/** A model of motion, or of how two quantities go together: what it says of each kind of column. */
export interface Model {
  id: ModelId
  name: string
  group: ModelGroup
  /** When to use it, in a sentence. */
  use: string
  /** What it says of a column; null where it says nothing. */
  law(setting: Setting): Law | null
  /** What it says of two quantities against each other, where neither is told by the other alone; left out where it says nothing. */
  loop?(setting: LoopSetting): LoopLaw | null
}

/** What two quantities are that stand against each other. */
export interface LoopSetting {
  /** Whether the one that goes up is the rate of the other one. */
  isRateOf: boolean
  /** Whether they are of an angle. */
  isAngle: boolean
}

/** A closed curve in the plane of two quantities. */
export interface LoopLaw extends Relation {
  /** TeX of the whole relation. */
  formula(parameters: readonly string[], along: string, value: string): string
  parameters: LawParameter[]
  readings: LawReading[]
  /** Where to begin, told from the points. */
  begin(x: Float64Array, y: Float64Array): number[]
  /** A place of the curve, by an angle that goes once round. */
  trace(parameters: ArrayLike<number>, turn: number): { x: number; y: number }
}

/** What a column is that a model is asked about. */
export interface Setting {
  /** What it is a derivative of how many times, where it is one of a number that places have; null for any other column. */
  order: 0 | 1 | 2 | null
  /** Letter of that number, or symbol of the column. */
  letter: string
  /** Whether it is of an angle. */
  isAngle: boolean
  form: 'physics' | 'coefficients'
  /** Moments within the stretch at which the motion breaks. */
  breaks: readonly number[]
  /** What stands for the time, or whatever it is against, in a free form. */
  variable: string
  /** A free form's expression, and values to begin with by its parameters' names. */
  expression: string
  start: Readonly<Record<string, number>>
}

/** A column about which nothing is known, against time, in the physics' own parameters. */
export const PLAIN: Setting = {
  ...{ order: null, letter: 'y', isAngle: false, form: 'physics', breaks: [] },
  ...{ variable: 't', expression: '', start: {} },
}

/** The letter of a column: of velocities and accelerations their own. */
export function letterOf({ order, letter, isAngle }: Setting): string {
  if (order === 1) return isAngle ? 'ω' : 'v'
  if (order === 2) return isAngle ? 'α' : 'a'
  return letter
}

/** What a number is made of: so many times the column's dimension, what it stands against, and angles. */
export interface Exponents {
  value?: number
  along?: number
  angle?: number
}

/** A parameter as people know it. */
export interface LawParameter {
  symbol: string
  subscript: string
  name: string
  /** Null where nobody can say, as with a free form's. */
  dimension: Exponents | null
  /** An angle that whole turns don't change. */
  turns?: boolean
}

/** Where a reading is taken. */
export interface Where {
  /** First and last point. */
  from: number
  to: number
}

/** Something of the physics that a law says. */
export interface LawReading {
  key: string
  name: string
  symbol: string
  subscript: string
  dimension: Exponents | null
  /** Hertz are said instead of 1/s. */
  isFrequency?: boolean
  /** @returns not finite where the law says nothing of it, as of a turning point that isn't there */
  of(shown: readonly number[], where: Where): number
}

/** Where the engine begins, and within which bounds it looks. */
export interface Beginning {
  starts: number[][]
  lower?: number[]
  upper?: number[]
}

/**
 * What a model says of one kind of column. The engine's own parameters count from a place `zero` in the middle of the
 * points, where they depend on each other least; those that are shown count from 0.
 */
export interface Law {
  /** Another name than the model's, where it says so of this kind of column. */
  name?: string
  /** TeX of what the column is equal to, with the parameters as they are given: symbols or numbers. */
  formula(parameters: readonly string[], along: string): string
  parameters: LawParameter[]
  readings: LawReading[]
  /** Engine's parameters that it is linear in, together. */
  linear: number[]
  /** The law at places that count from the engine's zero. */
  on(places: ArrayLike<number>): Evaluate
  /** Where to begin, told from points whose places count from the engine's zero. Throws a FitError where nothing can be. */
  begin(places: Float64Array, values: Float64Array): Beginning
  shown(own: readonly number[], zero: number): number[]
  own(shown: readonly number[], zero: number): number[]
  /** Whether it has to go through zero: how much it explains is then not counted about the mean. */
  isThroughZero?: boolean
  /** Whether it goes on over breaks. */
  knowsBreaks?: boolean
  /** Among how many places, or frequencies, that have nothing to do with each other, n points let it choose the best. */
  choices?(n: number): number
  /** Whether it bends sharply, at a place that is found. */
  hasCorners?: boolean
  /** Engine's zero, where it has to be a certain one. */
  zero?: number
  /** A sentence where what was found is carried by too short a stretch; null where it isn't. */
  doubt?(shown: readonly number[], where: Where): string | null
  /** Throws a FitError where points with these places leave what was found undetermined. */
  check?(own: ArrayLike<number>, places: Float64Array): void
}

/** Of a law whose engine's parameters are those that people know, at places that count from 0. */
export const AS_KNOWN: Required<Pick<Law, 'zero' | 'shown' | 'own'>> = {
  zero: 0,
  shown: (own) => [...own],
  own: (shown) => [...shown],
}
