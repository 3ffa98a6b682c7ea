import type { Column, MotionTable, Range } from '../motion/index.ts'
import { FitError } from '../regression/index.ts'
import { fitRelationPoints, type RelationPoints } from './fitRelationPoints.ts'
import type { ColumnFit, FitSettings } from './fitResult.ts'
import { markSensitivities, pickedMap, shiftsOf } from './sample.ts'

/**
 * Fits a relation between two quantities of the same moments, both of which have errors. Errors that both quantities of
 * a point take from the same marks count there; those that neighbouring points share count in the errors of what is found.
 *
 * @throws FitError, with the code of the reason, where the points can't determine it; ExpressionError for a free form that is wrong
 */
export function fitPath(
  table: MotionTable,
  quantity: string,
  xQuantity: string,
  range: Range,
  settings: FitSettings,
): ColumnFit {
  const [yColumn, xColumn] = [table.column(quantity), table.column(xQuantity)]
  if (yColumn.missing ?? xColumn.missing) throw new FitError({ code: 'quantity-missing' })
  return fitRelationPoints(pointsOf(table, yColumn, xColumn, range), settings)
}

function pointsOf(
  table: MotionTable,
  yColumn: Column,
  xColumn: Column,
  { from, to, without = {} }: Range,
): RelationPoints {
  const placeIn = new Map(xColumn.rows.map((row, i) => [row, i]))
  const both = yColumn.rows.flatMap((row, i) => {
    const frame = table.frames[row]
    const other = placeIn.get(row)
    return other !== undefined && frame >= from && frame <= to && !without[frame] ? [{ row, i, other }] : []
  })
  const [others, own] = [both.map(({ other }) => other), both.map(({ i }) => i)]
  const [sensitivityX, sensitivityY] = [markSensitivities(xColumn, others), markSensitivities(yColumn, own)]
  return {
    quantityX: xColumn,
    quantityY: yColumn,
    length: table.length,
    rows: both.map(({ row }) => row),
    frames: both.map(({ row }) => table.frames[row]),
    x: Float64Array.from(both, ({ row }) => xColumn.values[row]),
    y: Float64Array.from(both, ({ row }) => yColumn.values[row]),
    errorsY: Float64Array.from(both, ({ row }) => yColumn.errors[row]),
    sensitivityX,
    sensitivityY,
    covariances: sensitivityX.map((sensitivity, i) => ({
      xx: sensitivity.productWith(sensitivity),
      xy: sensitivity.productWith(sensitivityY[i]),
      yy: sensitivityY[i].productWith(sensitivityY[i]),
    })),
    shiftsX: shiftsOf(table, xColumn, others, pickedMap(xColumn, others)),
    shiftsY: shiftsOf(table, yColumn, own, pickedMap(yColumn, own)),
  }
}
