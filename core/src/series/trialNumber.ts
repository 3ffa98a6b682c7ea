import { analyse, readingOf } from '../analysis/index.ts'
import { scaledSensitivity } from '../calculations/index.ts'
import type { ErrorPart, ReadingSensitivity } from '../fitting/index.ts'
import { axesOf, type Investigation, inOrder } from '../investigation/index.ts'
import { commonError, dimension, ErrorSensitivity } from '../motion/index.ts'
import { probeReading } from '../scene/index.ts'
import { type Dimension, parseUnit } from '../units/index.ts'
import type { TrialSource } from './document/series.ts'

/** A number of one trial, in SI. */
export interface TrialNumber {
  value: number
  dimension: Dimension
  /** Unit in which it is shown, and how many SI units that is. */
  unit: string
  factor: number
  /** Effects of all errors in SI, per standard error. */
  sensitivity: ReadingSensitivity
  /** Degrees of freedom of what each source of errors was estimated with; infinite for sources that are not in here. */
  freedoms: ReadonlyMap<ErrorPart['source'], number>
}

/** Why a trial has no such number. */
export type NumberTrouble =
  /** What it is read from is not in this trial. */
  | 'gone'
  /** It is there but has no value, such as a fit to too few marks. */
  | 'no-value'
  /** It is a length, and the trial has no scale. */
  | 'no-scale'

const stated = (key: string, by: number): ReadingSensitivity => ({
  marks: new ErrorSensitivity(),
  common: new Map(by > 0 ? [[key, { source: 'stated' as const, by }]] : []),
})

/** Returns a number that was stated, or that shares its error with nothing else in its trial. */
export function statedNumber(
  key: string,
  { value, error, unit }: { value: number; error: number; unit: string },
): TrialNumber {
  const { factor, dimension: size } = parseUnit(unit) ?? { factor: 1, dimension: dimension({}) }
  return {
    value: factor * value,
    dimension: size,
    unit,
    factor,
    sensitivity: stated(key, factor * error),
    freedoms: new Map(),
  }
}

interface Read {
  value: number
  unit: string
  parts: readonly ErrorPart[]
  sensitivity: () => ReadingSensitivity
}

function readNumber({ value, unit, parts, sensitivity }: Read): TrialNumber {
  const { factor, dimension: size } = parseUnit(unit) ?? { factor: 1, dimension: dimension({}) }
  return {
    value: factor * value,
    dimension: size,
    unit,
    factor,
    sensitivity: scaledSensitivity(sensitivity(), factor),
    freedoms: new Map(parts.map(({ source, freedom }) => [source, freedom])),
  }
}

/** Numbers of trials' documents, by their sources, as far as they were asked for. */
const known = new WeakMap<Investigation, Map<string, TrialNumber | NumberTrouble>>()

/** Returns the numbers that are known of a document; the map can be added to. */
export function knownNumbersOf(document: Investigation): Map<string, TrialNumber | NumberTrouble> {
  const numbers = known.get(document) ?? new Map<string, TrialNumber | NumberTrouble>()
  known.set(document, numbers)
  return numbers
}

/** Returns the key under which the number of a source is known. */
export const sourceKey = (source: TrialSource): string => JSON.stringify(source)

/** Returns the number that a source has in a trial, or why there is none. It is computed once for a document. */
export function trialNumber(document: Investigation, source: TrialSource): TrialNumber | NumberTrouble {
  const known = knownNumbersOf(document)
  const key = sourceKey(source)
  const number = known.get(key) ?? numberOf(document, source)
  known.set(key, number)
  return number
}

function numberOf(document: Investigation, source: TrialSource): TrialNumber | NumberTrouble {
  switch (source.of) {
    case 'reading': {
      const fit = analyse(document).fit(source.fit)
      if (!fit) return 'gone'
      const reading = fit.fit && readingOf(fit, source.reading)
      if (!reading || !Number.isFinite(reading.value)) return 'no-value'
      return hasPixels(reading.unit) ? 'no-scale' : readNumber(reading)
    }
    case 'calculation': {
      const shown = analyse(document).calculation(source.calculation)
      if (!shown) return 'gone'
      if (!shown.result || !Number.isFinite(shown.result.value)) return 'no-value'
      return hasPixels(shown.result.unit) ? 'no-scale' : readNumber(shown.result)
    }
    case 'probe': {
      const probe = document.probes[source.probe]
      if (!probe) return 'gone'
      const reading = probeReading(analyse(document).scene(), probe)
      if (!reading) return 'no-value'
      if (reading.unit === 'px') return 'no-scale'
      return { ...statedNumber(`probe ${source.probe}`, reading), ...shownInDegrees(reading.unit) }
    }
    case 'mass': {
      const body = document.bodies[source.body]
      if (!body) return 'gone'
      if (!body.mass) return 'no-value'
      const number = inOrder(document.bodies).findIndex(([id]) => id === source.body)
      return statedNumber(`stated ${commonError.mass(number)}`, { ...body.mass, unit: 'kg' })
    }
    case 'constant': {
      const constant = document.constants[source.constant]
      return constant ? statedNumber(`constant ${source.constant}`, constant) : 'gone'
    }
    case 'free-fall':
      return statedNumber(`stated ${commonError.freeFall}`, { ...document.freeFall, unit: 'm/s²' })
    case 'steepness':
      return steepnessOf(document)
  }
}

/** Returns the angle of the x axis against the horizontal, which is that of the picture where no plumb line says otherwise. */
function steepnessOf(document: Investigation): TrialNumber {
  const { gravity } = document
  const { tilt, tiltError } = axesOf(document)
  const angle = tilt - (gravity ? gravity.direction + Math.PI / 2 : 0)
  const value = Math.asin(Math.abs(Math.sin(angle)))
  const sign = Math.sign(Math.sin(angle) * Math.cos(angle)) || 1
  const errors: [string, number, 'tilt' | 'gravity'][] = [
    ['tilt', sign * tiltError, 'tilt'],
    ['gravity', gravity ? -sign * gravity.error : 0, 'gravity'],
  ]
  return {
    ...statedNumber('', { value, error: 0, unit: 'rad' }),
    ...shownInDegrees('rad'),
    sensitivity: {
      marks: new ErrorSensitivity(),
      common: new Map(errors.flatMap(([key, by, source]) => (by === 0 ? [] : [[key, { source, by }]]))),
    },
  }
}

const hasPixels = (unit: string) => unit.includes('px')

const shownInDegrees = (unit: string) => (unit === 'rad' ? { unit: '°', factor: Math.PI / 180 } : {})
