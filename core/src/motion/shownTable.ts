import { type LengthName, metresIn } from '../units/index.ts'
import type { Column, MotionTable } from './motionTable.ts'
import { byQuantity, QUANTITIES, quantityUnit } from './quantities.ts'

/**
 * A motion table in another unit of length, to be shown: everything that is derived from it then stands in
 * that unit, too. One in pixels stays in pixels.
 */
export function shownTable(table: MotionTable, length: LengthName): MotionTable {
  if (table.length === 'px' || table.length === length) return table
  const factor = metresIn(table.length) / metresIn(length)
  const column = (known: Column): Column => {
    const { order, component } = QUANTITIES[known.quantity]
    if (component === 'turn') return known
    return {
      ...known,
      unit: quantityUnit(length, order),
      values: known.values.map((value) => factor * value),
      errors: known.errors.map((error) => factor * error),
      scatter: known.scatter && { ...known.scatter, variance: factor * factor * known.scatter.variance },
      bias: () => known.bias().map((bound) => factor * bound),
    }
  }
  return {
    ...table,
    length,
    columns: byQuantity((id) => column(table.columns[id])),
    cameraErrors: () =>
      table.cameraErrors()?.map((error) => ({
        ...error,
        x: error.x.map((value) => factor * value),
        y: error.y.map((value) => factor * value),
      })) ?? null,
  }
}
