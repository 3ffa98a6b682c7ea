import type { Investigation } from '../investigation/index.ts'
import { areAlike, dimension, ExpressionError, type KnownNumber, readExpression } from '../motion/index.ts'
import { parseUnit, unitOf } from '../units/index.ts'

/** What is expected of a reading, in the reading's own unit. */
export interface ExpectedValue {
  value: number
  error: number
}

/** Standard acceleration of free fall, m/s² (3rd CGPM, 1901). */
export const STANDARD_GRAVITY = 9.80665

/**
 * Returns what comes out of an expression of the investigation's numbers, such as sqrt(g/L), with their errors, in the unit of a
 * reading. Names are constants, references and probes; g is the acceleration of free fall.
 *
 * @throws ExpressionError where it can't be read, or comes out in another unit
 */
export function expectedByExpression(
  { freeFall }: Investigation,
  numbers: readonly KnownNumber[],
  text: string,
  unit: string,
): ExpectedValue {
  const expression = readExpression(text)
  const known = [...numbers, { name: 'g', ...freeFall, dimension: dimension({ length: 1, time: -2 }) }]
  const meant = expression.names.map((name) => {
    const number = known.find((one) => one.name === name)
    if (!number) throw new ExpressionError({ code: 'unknown-name', name })
    return number
  })
  const wanted = parseUnit(unit)
  const found = expression.dimension(meant.map(({ dimension }) => dimension))
  if (!wanted || !areAlike(wanted.dimension, found))
    throw new ExpressionError({ code: 'wrong-unit', found: unitOf(found, 'm'), wanted: unit })
  const { value, gradient: slopes } = expression.evaluate(meant.map((number) => number.value))
  if (!Number.isFinite(value)) throw new ExpressionError({ code: 'division-by-zero' })
  const error = Math.hypot(...slopes.map((slope, i) => slope * meant[i].error))
  return { value: value / wanted.factor, error: error / wanted.factor }
}

/**
 * Acceleration of free fall at sea level, m/s², by the latitude in degrees: the international formula (Geodetic
 * Reference System 1980; Moritz, Bulletin géodésique 62 (1988) 348).
 */
export function gravityAt(latitude: number): number {
  const sine = Math.sin((latitude * Math.PI) / 180) ** 2
  const twice = Math.sin((latitude * Math.PI) / 90) ** 2
  return 9.780327 * (1 + 0.0053024 * sine - 0.0000058 * twice)
}
