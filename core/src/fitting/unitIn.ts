import type { LengthUnit } from '../units/index.ts'
import { type Dimension, unitOf } from '../units/index.ts'
import type { Exponents } from './models/index.ts'

/** What a column, or what it stands against, is measured in. */
export interface Sized {
  dimension: Dimension
  unit: string
}

export const TIME: Sized = { dimension: { mass: 0, length: 0, time: 1, angle: 0 }, unit: 's' }

/** Returns the unit of something that is made so of the column's values and of times. */
export function unitIn(
  exponents: Exponents | null,
  { dimension, unit }: Sized,
  against: Sized,
  length: LengthUnit,
): string {
  if (!exponents) return ''
  const { value = 0, along = 0, angle = 0 } = exponents
  if (value === 1 && along === 0) return unit
  if (value === 0 && along === 1) return against.unit
  const other = against.dimension
  const combined: Dimension = {
    mass: value * dimension.mass + along * other.mass,
    length: value * dimension.length + along * other.length,
    time: value * dimension.time + along * other.time,
    angle: value * dimension.angle + along * other.angle + angle,
  }
  const isUsual = (of: Sized) => of.unit === unitOf(of.dimension, length)
  if ((value === 0 || isUsual({ dimension, unit })) && (along === 0 || isUsual(against)))
    return unitOf(combined, length)
  // A unit of its own is kept, with what it is multiplied by.
  const power = (of: string, by: number) => (by === 0 ? [] : [by === 1 ? of : `(${of})^${by}`])
  return [...power(unit, value), ...power(against.unit, along)].join('·')
}
