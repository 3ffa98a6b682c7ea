import {
  type ColumnFit,
  type ErrorSource,
  type NamedReading,
  namedReadings,
  type ReadingSensitivity,
} from '../fitting/index.ts'
import { type Investigation, inOrder } from '../investigation/index.ts'
import { asName, commonError, dimension, ErrorSensitivity, type KnownNumber } from '../motion/index.ts'
import { type Dimension, parseUnit } from '../units/index.ts'

/** A number that calculations can use, in SI, with its sensitivity to shared errors. */
export interface KnownValue extends KnownNumber {
  /** How many of the SI's the unit is in which it is known. */
  factor: number
  sensitivity: () => ReadingSensitivity
}

/** Fits that share a number, such as those of one stretch, in order. */
export interface NumberedFits {
  number: number
  fits: readonly (readonly ColumnFit[])[]
}

const LETTERS = 'abcdefghijklmnopqrstuvwxyz'

/** Returns a number by itself: its error is shared with nothing but the same number. */
function alone(
  name: string,
  what: string,
  { value, error, dimension, unit }: { value: number; error: number; dimension: Dimension; unit: string },
  key: string,
  source: ErrorSource = 'stated',
): KnownValue {
  return {
    name,
    what,
    value,
    error,
    dimension,
    unit,
    factor: parseUnit(unit)?.factor ?? 1,
    sensitivity: () => ({ marks: new ErrorSensitivity(), common: new Map([[key, { source, by: error }]]) }),
  }
}

/**
 * Returns every number that calculations of an investigation can use: readings of its fits, such as a_1 for the acceleration of
 * stretch 1, constants, references, probes, masses, and g.
 */
export function knownValues(
  investigation: Investigation,
  numbers: readonly KnownNumber[],
  stretches: readonly NumberedFits[],
): KnownValue[] {
  const readings = fitReadings(stretches, 'stretch')
  const { freeFall } = investigation
  const masses = inOrder(investigation.bodies).flatMap(([, { mass, name }], number) =>
    mass
      ? [
          alone(
            `m_${asName(name)}`,
            `mass of ${name}`,
            { ...mass, dimension: dimension({ mass: 1 }), unit: 'kg' },
            `stated ${commonError.mass(number)}`,
          ),
        ]
      : [],
  )
  return [
    ...readings,
    ...numbers.map((number, index) =>
      alone(number.name, number.what, number, `stated ${commonError.knownNumber(index)}`),
    ),
    ...masses,
    alone(
      'g',
      'acceleration of free fall',
      { ...freeFall, dimension: dimension({ length: 1, time: -2 }), unit: 'm/s²' },
      `stated ${commonError.freeFall}`,
    ),
  ]
}

/**
 * Returns the readings of fits by names, such as a_1 for the acceleration of stretch 1.
 *
 * @param what each number is one of, for the list of names
 */
export function fitReadings(numbered: readonly NumberedFits[], what: string): KnownValue[] {
  return numbered.flatMap(({ number, fits }) =>
    fits.flatMap((all, i) => {
      const behind = `_${number}${fits.length > 1 ? (LETTERS[i] ?? i) : ''}`
      const taken = new Set<string>()
      return namedReadings(all).map((reading) =>
        ofReading(nameOf(reading, behind, taken), `${what} ${number}: ${reading.name}`, reading),
      )
    }),
  )
}

/** Returns a name that can stand in an expression, other than those before it. */
function nameOf({ symbol, subscript, id }: NamedReading, behind: string, taken: Set<string>): string {
  // Words below the line stand apart: v_end, but v0.
  const below = /^\p{L}{2,}$/u.test(subscript) ? `_${subscript}` : subscript
  const plain = asName(`${symbol}${below}`.replace('∞', 'inf').replace('½', 'half'))
  const name = taken.has(plain) ? `${plain}_${asName(id)}` : plain
  taken.add(name)
  return name + behind
}

function ofReading(name: string, what: string, reading: NamedReading): KnownValue {
  const known = parseUnit(reading.unit) ?? { dimension: dimension({}), factor: 1 }
  const { factor } = known
  return {
    name,
    what,
    dimension: known.dimension,
    factor,
    unit: reading.unit,
    value: factor * reading.value,
    error: factor * reading.error,
    sensitivity: () => scaledSensitivity(reading.sensitivity(), factor),
  }
}

/** Returns a sensitivity multiplied by a factor. */
export function scaledSensitivity({ marks, common }: ReadingSensitivity, times: number): ReadingSensitivity {
  const scaled = new ErrorSensitivity()
  marks.each((error, by) => {
    scaled.add(error, times * by)
  })
  return {
    marks: scaled,
    common: new Map([...common].map(([key, { source, by }]) => [key, { source, by: times * by }])),
  }
}
