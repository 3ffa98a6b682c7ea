import { type LengthName, metresIn } from '../units/index.ts'
import type { Column, MotionTable } from './motionTable.ts'
import { QUANTITIES, quantityUnit } from './quantities.ts'

/**
 * A motion table in another unit of length, to be shown: everything that is derived from it then stands in
 * that unit, too. One in pixels stays in pixels.
 */
export function shownTable(table: MotionTable, length: LengthName): MotionTable {
  if (table.length === 'px' || table.length === length) return table
  const factor = metresIn(table.length) / metresIn(length)
  const column = (known: Column): Column => ({
    ...known,
    unit: quantityUnit(length, QUANTITIES[known.quantity].order),
    values: known.values.map((value) => factor * value),
  })
  const { x, y, vx, vy } = table.columns
  return {
    ...table,
    length,
    columns: { x: column(x), y: column(y), vx: column(vx), vy: column(vy) },
    cameraErrors: () =>
      table.cameraErrors()?.map((error) => ({
        ...error,
        x: error.x.map((value) => factor * value),
        y: error.y.map((value) => factor * value),
      })) ?? null,
  }
}
