import { type LengthName, metresIn, unitOf } from '../units/index.ts'
import { type Column, perParameter } from './columns/column.ts'
import type { MotionTable } from './motionTable.ts'
import { QUANTITIES } from './quantities/index.ts'

/**
 * Returns a motion table in another unit of length for display, except for quantities with a mass. One in pixels
 * stays in pixels.
 */
export function shownTable(table: MotionTable, length: LengthName): MotionTable {
  if (table.length === 'px' || table.length === length) return table
  const each = metresIn(table.length) / metresIn(length)
  const shown = (known: Column): Column => {
    const { mass, length: power } = known.dimension
    const hasOwnUnit = !(known.quantity in QUANTITIES) || known.unit !== unitOf(known.dimension, table.length)
    if (mass !== 0 || power === 0 || hasOwnUnit) return known
    const factor = each ** power
    return {
      ...known,
      unit: unitOf(known.dimension, length),
      values: known.values.map((value) => factor * value),
      errors: known.errors.map((error) => factor * error),
      position: known.position && {
        ...known.position,
        values: known.position.values.map((value) => factor * value),
        errors: known.position.errors.map((error) => factor * error),
      },
      scatter: known.scatter && { ...known.scatter, variance: factor * factor * known.scatter.variance },
      bias: () => known.bias().map((bound) => factor * bound),
      addSensitivity: (i, times, into) => known.addSensitivity(i, factor * times, into),
      calibrationSensitivities: perParameter(
        (parameter) => () => known.calibrationSensitivities[parameter]().map((gain) => factor * gain),
      ),
    }
  }
  const columns = new Map<string, Column>()
  return {
    ...table,
    length,
    column: (quantity) => {
      const column = columns.get(quantity) ?? shown(table.column(quantity))
      columns.set(quantity, column)
      return column
    },
    cameraErrors: () =>
      table.cameraErrors()?.map((error) => ({
        ...error,
        x: error.x.map((value) => each * value),
        y: error.y.map((value) => each * value),
      })) ?? null,
  }
}
