import type { Derivation } from '../investigation/index.ts'
import { type Column, DERIVATIVES, ErrorSensitivity, type MotionTable, pickPoints } from '../motion/index.ts'
import { type LengthUnit, perSecond, unitOf } from '../units/index.ts'

/** The slope of a quantity against time in one row of a table, with its standard error by the marks. */
export interface Slope {
  row: number
  time: number
  value: number
  slope: number
  error: number
}

/**
 * Slopes of a quantity against time, by the way in which derivatives are made here, at every row that has one: what the
 * tangent to its graph has. NaN errors where nothing tells them.
 */
export function slopesOf(table: MotionTable, quantity: string, derivation: Derivation): Slope[] {
  const column = table.column(quantity)
  const { rows } = column
  const values = rows.map((row) => column.values[row])
  const method = DERIVATIVES[derivation.method]
  const derived = method.derive(
    pickPoints({ from: table.times, to: table.times, breaks: table.breaks }, rows),
    1,
    derivation.reach,
    values,
    derivation.weighted,
  )
  return derived.rows.map((point, i) => {
    const start = derived.map.start[i]
    const sensitivity = new ErrorSensitivity()
    let slope = 0
    derived.map.coefficients[i].forEach((coefficient, k) => {
      slope += coefficient * values[start + k]
      column.addSensitivity(start + k, coefficient, sensitivity)
    })
    const row = rows[point]
    return { row, time: table.times[row], value: column.values[row], slope, error: sensitivity.size() }
  })
}

/** Returns the unit of a column's slope against time: "m/s²" for "m/s"; a unit that a person chose gets "/s" behind it. */
export function slopeUnit(
  { dimension, unit }: Pick<Column, 'dimension' | 'unit'>,
  length: LengthUnit,
): string {
  return unit === unitOf(dimension, length) ? unitOf(perSecond(dimension), length) : `${unit}/s`
}
