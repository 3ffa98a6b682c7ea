import type { MultiBodyQuantity } from '../quantities/index.ts'
import { type Column, perParameter } from './column.ts'
import type { BodyColumns, ColumnContext } from './columnContext.ts'
import { combineColumns, turnedConstants } from './combineColumns.ts'

/** Returns the column of a quantity of several bodies, in the rows of this one: where all have a mark in the same frame. */
export function makeMultiBody(
  quantity: MultiBodyQuantity,
  context: ColumnContext,
  self: BodyColumns,
): Column {
  const bodies = context.others[quantity.among]()
  const from = bodies.flatMap((body) =>
    quantity.from.map((id) => (body === self ? self.column(id) : inRowsOf(context, body, id))),
  )
  const each = quantity.from.length
  const constants = bodies.map((body) => body.constants)
  return combineColumns(quantity, from, context, (row, turn) =>
    quantity.evaluate(
      bodies.map((_, b) => from.slice(b * each, (b + 1) * each).map(({ values }) => values[row])),
      constants.map((one) => turnedConstants(one, turn)),
    ),
  )
}

/** Returns a column of another body in the rows of this one, by their frames. */
function inRowsOf({ marks }: ColumnContext, body: BodyColumns, id: string): Column {
  const column = body.column(id)
  const rowOf = new Map(body.frames.map((frame, row) => [frame, row]))
  const there = marks.frames.map((frame) => rowOf.get(frame) ?? -1)
  const indexOf = new Map(column.rows.map((row, i) => [row, i]))
  const rows = there.flatMap((row, own) => (indexOf.has(row) ? [own] : []))
  const moved = (values: Float64Array) => Float64Array.from(there, (row) => values[row] ?? Number.NaN)
  return {
    ...column,
    values: moved(column.values),
    errors: moved(column.errors),
    rows,
    bias: () => moved(column.bias()),
    calibrationSensitivities: perParameter(
      (parameter) => () => moved(column.calibrationSensitivities[parameter]()),
    ),
    addSensitivity: (i, factor, into) => column.addSensitivity(indexOf.get(there[rows[i]])!, factor, into),
  }
}
