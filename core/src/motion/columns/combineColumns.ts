import type { CalibrationParameter } from '../../scene/index.ts'
import { ErrorSensitivity } from '../errorSensitivity.ts'
import { type BodyConstants, type Linearised, QUANTITIES, type QuantityInfo } from '../quantities/index.ts'
import type { ColumnNote } from './column.ts'
import { type Column, once, perParameter } from './column.ts'
import type { ColumnContext } from './columnContext.ts'

/** Half the angle (rad) over which the derivative by the direction of gravity is taken. */
const SMALL_TURN = 1e-4

/**
 * Returns a column whose values follow from those of other columns in the same row, with first-order error propagation.
 *
 * @param from the other columns, whose values `at` reads
 * @param at returns the value of a row and its gradient by the values of `from`, with the direction of gravity turned by an
 * angle (rad); null if there is none
 */
export function combineColumns(
  quantity: QuantityInfo,
  from: Column[],
  context: ColumnContext,
  at: (row: number, turn: number) => Linearised | null,
): Column {
  const rows: number[] = []
  const found: Linearised[] = []
  let infinite = 0
  for (let row = 0; row < context.count; row++) {
    if (from.some((column) => Number.isNaN(column.values[row]))) continue
    const one = at(row, 0)
    if (one && !Number.isFinite(one.value)) infinite++
    if (!one || !Number.isFinite(one.value)) continue
    rows.push(row)
    found.push(one)
  }
  const indexIn = from.map((column) => indicesOf(column, context.count))
  const addSensitivity = combinedSensitivity(from, indexIn, rows, found)
  const one = new ErrorSensitivity()
  const errors = rows.map((row, i) => {
    one.clear()
    addSensitivity(i, 1, one)
    return one.size() * excessOf(from, row, indexIn)
  })
  const byGravity = once(() => rows.map((row) => gravityDerivative(row, at)))
  // Gravity is given in the picture: turning the axes turns its direction in the scene.
  const { turn, turnByOrigin } = context.settings.axes
  const turns: Partial<Record<CalibrationParameter, number>> = {
    gravity: 1,
    tilt: turn,
    originX: turnByOrigin[0],
    originY: turnByOrigin[1],
  }
  const notes = distinct([
    ...from.flatMap((column) => column.notes),
    ...(infinite > 0 ? [{ code: 'division-by-zero' as const, rows: infinite }] : []),
  ])
  return {
    ...context.base(quantity),
    values: context.spread(
      rows,
      found.map(({ value }) => value),
    ),
    errors: context.spread(rows, errors),
    rows,
    notes,
    calibrationSensitivities: perParameter((parameter) =>
      once(() => {
        const gains = from.map((column) => column.calibrationSensitivities[parameter]())
        const own = turns[parameter]
        return context.spread(
          rows,
          rows.map((row, i) =>
            gains.reduce(
              (sum, gain, c) => sum + found[i].gradient[c] * gain[row],
              own === undefined ? 0 : own * byGravity()[i],
            ),
          ),
        )
      }),
    ),
    bias: once(() => {
      const bounds = from.map((column) => column.bias())
      return context.spread(
        rows,
        rows.map((row, i) =>
          bounds.reduce((sum, bound, c) => sum + Math.abs(found[i].gradient[c]) * bound[row], 0),
        ),
      )
    }),
    addSensitivity,
  }
}

/** Returns the derivative of a row's value by the direction of gravity, where it depends on it directly and not through other columns. */
function gravityDerivative(row: number, at: (row: number, turn: number) => Linearised | null): number {
  const [on, back] = [SMALL_TURN, -SMALL_TURN].map((turn) => at(row, turn)?.value ?? Number.NaN)
  const slope = (on - back) / (2 * SMALL_TURN)
  return Number.isFinite(slope) ? slope : 0
}

/** Returns the index of each row of the table in the rows of a column; −1 where it has no value. */
function indicesOf({ rows }: Column, count: number): Int32Array {
  const indices = new Int32Array(count).fill(-1)
  rows.forEach((row, i) => {
    indices[row] = i
  })
  return indices
}

function combinedSensitivity(
  from: Column[],
  indexIn: Int32Array[],
  rows: number[],
  found: Linearised[],
): Column['addSensitivity'] {
  const byChainRule = (i: number, factor: number, into: ErrorSensitivity) => {
    from.forEach((column, c) => {
      const slope = found[i].gradient[c]
      if (slope !== 0) column.addSensitivity(indexIn[c][rows[i]], factor * slope, into)
    })
    for (const [error, by] of found[i].common ?? []) into.add(error, factor * by)
  }
  // Custom quantities can be built on each other: computed once a row, a long chain takes linear instead of exponential time.
  const isChained = from.some(({ quantity: id }) => id !== 't' && !Object.hasOwn(QUANTITIES, id))
  if (!isChained) return byChainRule
  const known: ErrorSensitivity[] = []
  return (i, factor, into) => {
    if (!known[i]) {
      known[i] = new ErrorSensitivity()
      byChainRule(i, 1, known[i])
    }
    known[i].each((error, by) => into.add(error, factor * by))
  }
}

/** Returns the largest ratio of a column's stated error to that due to the marks: derivations can add an error of their own. */
function excessOf(from: Column[], row: number, indexIn: Int32Array[]): number {
  return from.reduce((most, column, c) => {
    if (!column.scatter) return most
    const one = new ErrorSensitivity()
    column.addSensitivity(indexIn[c][row], 1, one)
    return Math.max(most, column.errors[row] / one.size())
  }, 1)
}

/** Returns the constants with the direction of gravity turned as turning the axes by that angle (rad) shows it. */
export function turnedConstants(constants: BodyConstants, turn: number): BodyConstants {
  if (turn === 0) return constants
  const { x, y } = constants.down
  return { ...constants, down: { x: x + turn * y, y: y - turn * x } }
}

/** Returns notes without those that say the same as one before. */
function distinct(notes: readonly ColumnNote[]): ColumnNote[] {
  return [...new Map(notes.map((note) => [JSON.stringify(note), note])).values()]
}
