import type { PositionQuantity } from '../quantities/index.ts'
import type { Column } from './column.ts'
import type { ColumnContext } from './columnContext.ts'

/** Returns the column of a position quantity. */
export function makePositions(quantity: PositionQuantity, context: ColumnContext): Column {
  const position = context.positions(quantity)
  const values = context.spread(position.rows, position.values)
  return {
    ...context.base(quantity),
    values,
    errors: context.spread(position.rows, position.errors),
    rows: position.rows,
    position,
    calibrationSensitivities: context.scaled(
      values,
      { length: quantity.dimension.length, time: 0 },
      (parameter) => context.spread(position.rows, context.axesSensitivity(position, parameter)),
    ),
    addSensitivity: (i, factor, into) =>
      context.addRowSensitivity(position.rows[i], position.gradients[i], factor, into),
  }
}
