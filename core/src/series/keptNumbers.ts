import type { ErrorPart, ErrorSource } from '../fitting/index.ts'
import type { Investigation } from '../investigation/index.ts'
import { ErrorSensitivity } from '../motion/index.ts'
import type { Dimension } from '../units/index.ts'
import { knownNumbersOf, type NumberTrouble, type TrialNumber } from './trialNumber.ts'

/** A number of a trial as plain values, which a browser can store. Errors of marks stand with their effects, in the same order. */
interface KeptNumber {
  value: number
  dimension: Dimension
  unit: string
  factor: number
  errors: Float64Array
  effects: Float64Array
  common: [string, { source: ErrorSource; by: number }][]
  freedoms: [ErrorPart['source'], number][]
}

/** Numbers of one state of a trial, by their sources; computing them anew gives the same. */
export type KeptNumbers = Record<string, KeptNumber | NumberTrouble>

/** Returns the numbers that are known of a document in a form that can be stored. */
export function keepNumbers(document: Investigation): KeptNumbers {
  return Object.fromEntries([...knownNumbersOf(document)].map(([source, number]) => [source, kept(number)]))
}

/** Returns stored numbers, by their sources. */
export function readNumbers(numbers: KeptNumbers): Map<string, TrialNumber | NumberTrouble> {
  return new Map(Object.entries(numbers).map(([source, number]) => [source, read(number)]))
}

/** Makes numbers known of a document that has the state of which they were stored: they are not computed again. */
export function noteNumbers(
  document: Investigation,
  numbers: ReadonlyMap<string, TrialNumber | NumberTrouble>,
): void {
  const all = knownNumbersOf(document)
  for (const [source, number] of numbers) if (!all.has(source)) all.set(source, number)
}

function kept(number: TrialNumber | NumberTrouble): KeptNumber | NumberTrouble {
  if (typeof number === 'string') return number
  const { value, dimension, unit, factor, sensitivity, freedoms } = number
  const pairs: [number, number][] = []
  sensitivity.marks.each((error, by) => pairs.push([error, by]))
  return {
    value,
    dimension,
    unit,
    factor,
    errors: Float64Array.from(pairs, ([error]) => error),
    effects: Float64Array.from(pairs, ([, by]) => by),
    common: [...sensitivity.common],
    freedoms: [...freedoms],
  }
}

function read(number: KeptNumber | NumberTrouble): TrialNumber | NumberTrouble {
  if (typeof number === 'string') return number
  const { value, dimension, unit, factor, errors, effects, common, freedoms } = number
  const marks = new ErrorSensitivity()
  for (let i = 0; i < errors.length; i++) marks.add(errors[i], effects[i])
  return {
    value,
    dimension,
    unit,
    factor,
    sensitivity: { marks, common: new Map(common) },
    freedoms: new Map(freedoms),
  }
}
