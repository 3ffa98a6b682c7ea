import { type DerivedQuantity, dimension, QUANTITIES } from '../quantities/index.ts'
import type { Column } from './column.ts'
import type { ColumnContext } from './columnContext.ts'
import { combineColumns, turnedConstants } from './combineColumns.ts'

/** Returns the column of a quantity that follows from other quantities of the same body at the same time. */
export function makeDerived(quantity: DerivedQuantity, context: ColumnContext): Column {
  const from = quantity.from.map((id) => (id === 't' ? timeColumn(context) : context.column(id)))
  const lacking = from.find(({ missing }) => missing)
  if (lacking) return context.empty(quantity, lacking.missing)
  const { constants } = context.settings
  return combineColumns(quantity, from, context, (row, turn) =>
    quantity.evaluate(
      from.map(({ values }) => values[row]),
      turnedConstants(constants, turn),
      from.map(({ errors }) => errors[row]),
    ),
  )
}

/** Returns the time of each row as a column without errors. */
function timeColumn(context: ColumnContext): Column {
  const { times } = context.rowTimes
  return {
    ...context.base({ ...QUANTITIES.x, dimension: dimension({ time: 1 }), id: 't' }),
    values: times,
    calibrationSensitivities: context.scaled(times, { length: 0, time: 1 }),
    errors: new Float64Array(context.count),
    rows: Array.from(times.keys()),
    addSensitivity: () => {},
  }
}
