import type { Derivation } from '../../investigation/index.ts'
import type { LinearMap } from '../../regression/index.ts'
import type { AxesInScene, CalibrationParameter } from '../../scene/index.ts'
import { type LengthUnit, unitOf } from '../../units/index.ts'
import { type ErrorSensitivity, errorNumber } from '../errorSensitivity.ts'
import { errorShares } from '../markCorrelation.ts'
import type { PlacedMarks } from '../placedMarks.ts'
import type { BodyConstants, CustomDefinition, PositionQuantity, QuantityInfo } from '../quantities/index.ts'
import type { MissingValue } from './column.ts'
import {
  type CalibrationSensitivities,
  type Column,
  once,
  type PositionColumn,
  perParameter,
  type RowTimes,
} from './column.ts'

/** Returns a custom quantity by its id; null if there is none. */
export type CustomLookup = (id: string) => CustomDefinition | null

/** What columns are computed with, besides the marks. */
export interface ColumnSettings {
  constants: BodyConstants
  length: LengthUnit
  axes: AxesInScene
  derivation: Derivation
  custom: CustomLookup
}

/** The columns of one body. */
export interface BodyColumns {
  frames: readonly number[]
  constants: BodyConstants
  /** @throws RangeError for an unknown quantity */
  column(id: string): Column
}

/** The bodies of quantities of two bodies, and of all, this one among them. */
export type OtherBodies = Record<'pair' | 'all', () => BodyColumns[]>

/** What the columns of all kinds are made with: the marks of a body, and what several kinds of column need. */
export class ColumnContext {
  others: OtherBodies = { pair: () => [], all: () => [] }
  private readonly positionColumns = new Map<string, PositionColumn>()

  constructor(
    readonly marks: PlacedMarks,
    readonly rowTimes: RowTimes,
    readonly settings: ColumnSettings,
    /** Returns a column of the same body. */
    readonly column: (id: string) => Column,
  ) {}

  /** Number of rows. */
  get count(): number {
    return this.marks.count
  }

  /** Returns one element per row from those of some rows; NaN for the others. */
  spread(rows: number[], numbers: ArrayLike<number>): Float64Array {
    if (rows.length === this.count) return new Float64Array(numbers)
    const all = new Float64Array(this.count).fill(Number.NaN)
    for (let i = 0; i < rows.length; i++) all[rows[i]] = numbers[i]
    return all
  }

  /** Returns the fields of a column that is not derived and lacks nothing. */
  base(info: QuantityInfo) {
    const { id, dimension, unit } = info
    return {
      quantity: id,
      info,
      dimension,
      unit: unit ?? unitOf(dimension, this.settings.length),
      position: null,
      map: null,
      scatter: null,
      notes: [],
      missing: null,
      bias: () => new Float64Array(this.count),
    }
  }

  /** Returns a column without values. */
  empty(info: QuantityInfo, missing: MissingValue | null): Column {
    const none = this.spread([], [])
    return {
      ...this.base(info),
      missing,
      values: none,
      errors: none,
      rows: [],
      addSensitivity: () => {},
      calibrationSensitivities: this.scaled(none, { length: 0, time: 0 }),
    }
  }

  /**
   * Returns the sensitivities of values to the calibration.
   *
   * @param exponents powers of length and time in the values' dimension
   * @param byAxes sensitivities to origin, tilt and direction of gravity; 0 where left out
   */
  scaled(
    values: Float64Array,
    exponents: { length: number; time: number },
    byAxes: (parameter: CalibrationParameter) => Float64Array = () => new Float64Array(values.length),
  ): CalibrationSensitivities {
    return perParameter((parameter) =>
      once(() =>
        parameter === 'length' || parameter === 'time'
          ? values.map((value) => exponents[parameter] * value)
          : byAxes(parameter),
      ),
    )
  }

  /** Returns the position column of a quantity. */
  positions(quantity: PositionQuantity): PositionColumn {
    const known = this.positionColumns.get(quantity.id)
    if (known) return known
    const column = positionColumn(quantity, this)
    this.positionColumns.set(quantity.id, column)
    return column
  }

  /** Adds `factor` times the sensitivity of a number with this gradient by the positions of a row. */
  addRowSensitivity(row: number, gradient: readonly number[], factor: number, into: ErrorSensitivity): void {
    const { number } = this.settings.constants
    const { frames } = this.marks
    const shares = this.marks.errorShares(row)
    for (let which = 0; which < gradient.length; which++) {
      const by = factor * this.marks.sensitivity(row, gradient, which)
      // Second points are marked by hand: their errors are independent.
      if (which > 1) into.add(errorNumber(number, frames[row], which), by)
      else
        shares.forEach((share, k) => {
          into.add(errorNumber(number, frames[row - k], which), share * by)
        })
    }
  }

  /** Returns the sensitivity of each value of a position column to a parameter of the axes, length n. */
  axesSensitivity({ rows, gradients }: PositionColumn, parameter: CalibrationParameter): Float64Array {
    const { origin, turn, turnByOrigin } = this.settings.axes
    /** Shift of the origin, and turn of the axes, in the scene. */
    const moves: Partial<Record<CalibrationParameter, { x: number; y: number; turn: number }>> = {
      originX: { x: origin[0][0], y: origin[1][0], turn: turnByOrigin[0] },
      originY: { x: origin[0][1], y: origin[1][1], turn: turnByOrigin[1] },
      tilt: { x: 0, y: 0, turn },
    }
    const move = moves[parameter]
    if (!move) return new Float64Array(rows.length)
    return Float64Array.from(rows, (row, i) => {
      const by = (at: { x: number; y: number }, [x, y]: readonly number[]) =>
        move.turn * (x * at.y - y * at.x) - x * move.x - y * move.y
      const second = gradients[i].length >= 4 ? this.marks.second(row) : null
      return (
        by(this.marks.place(row), gradients[i].slice(0, 2)) + (second ? by(second, gradients[i].slice(2)) : 0)
      )
    })
  }
}

function positionColumn(
  quantity: PositionQuantity,
  { marks, settings, count }: ColumnContext,
): PositionColumn {
  const rows: number[] = []
  const gradients: (readonly number[])[] = []
  const [all, allErrors] = [new Float64Array(count), new Float64Array(count)]
  for (let row = 0; row < count; row++) {
    const found = quantity.evaluate(marks.place(row), settings.constants, marks.second(row))
    if (!found) continue
    all[rows.length] = found.value
    allErrors[rows.length] = marks.error(row, found.gradient)
    rows.push(row)
    gradients.push(found.gradient)
  }
  const values = all.subarray(0, rows.length)
  // Second points are marked by hand.
  const isFollowed = marks.correlation > 0 && !quantity.needs.includes('second')
  const column: PositionColumn = {
    quantity,
    rows,
    gradients,
    frames: rows.map((row) => marks.frames[row]),
    correlation: isFollowed ? marks.correlation : 0,
    perPixel: isFollowed ? Float64Array.from(rows, (row, i) => marks.perPixel(row, gradients[i])) : null,
    errorMap: once(() => errorMapOf(column)),
    values: quantity.turns ? unwrapped(values) : values,
    errors: allErrors.subarray(0, rows.length),
  }
  return column
}

/** Returns angles (rad) without jumps: each within half a turn of the one before. */
function unwrapped(angles: Float64Array): Float64Array {
  let turns = 0
  return angles.map((angle, i) => {
    if (i > 0) turns -= Math.round((angle - angles[i - 1]) / (2 * Math.PI))
    return angle + 2 * Math.PI * turns
  })
}

/** Returns the map from independent errors of unit variance to the errors of positions, in their unit. */
function errorMapOf({ errors, frames, correlation }: PositionColumn): LinearMap {
  const start: number[] = []
  const coefficients = Array.from(errors, (error, i) => {
    const shares = errorShares(frames, i, correlation).reverse()
    start.push(i - shares.length + 1)
    return shares.map((share) => share * error)
  })
  return { start, coefficients }
}
