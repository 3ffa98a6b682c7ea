import type { Point } from '../geometry/index.ts'
import type { Derivation } from '../investigation/index.ts'
import { applyMap, composedMap, type LinearMap } from '../regression/index.ts'
import { type Dimension, type LengthUnit, unitOf } from '../units/index.ts'
import type { AxesInScene } from './axesErrors.ts'
import {
  biasBounds,
  type CoursePoints,
  DERIVATIVES,
  type Derived,
  pickPoints,
  type Scatter,
} from './derivatives/index.ts'
import { ErrorSensitivity, errorNumber } from './errorSensitivity.ts'
import { errorShares } from './markCorrelation.ts'
import type { Defined } from './own/index.ts'
import type { PlacedMarks } from './placedMarks.ts'
import {
  dimension,
  type JointQuantity,
  type Need,
  type PathQuantity,
  type PlaceQuantity,
  pathThrough,
  QUANTITIES,
  type Quantity,
  type QuantityInfo,
  type RateQuantity,
  type SharedQuantity,
  type Sloped,
  type World,
} from './quantities/index.ts'

/** Numbers that places have, and that rates are derived from. */
export interface PlaceColumn {
  quantity: PlaceQuantity
  /** Rows of the table that have one, in order. */
  rows: number[]
  values: Float64Array
  errors: Float64Array
  /** How each goes with its place, along x and y, and with its second point. */
  slopes: (readonly number[])[]
  /** Frames of the rows, and correlation of the marks' errors in neighbouring frames. */
  frames: number[]
  correlation: number
  /** Map from independent errors of unit variance to the errors of `values`. */
  errorMap: () => LinearMap
}

/** One quantity of one body over the table's rows. */
export interface Column {
  quantity: string
  /** What it says of itself. */
  info: QuantityInfo
  dimension: Dimension
  unit: string
  /** One value a row; NaN where the quantity has none. */
  values: Float64Array
  /** Standard error of each value that comes from the marks' own; NaN where there is no value. */
  errors: Float64Array
  /** Rows of the table that have a value, in order. */
  rows: number[]
  /** The numbers of places that its values are, or are derived from; null where it follows from more than one. */
  place: PlaceColumn | null
  /** How the values of `rows` come from those numbers; null where they are those, or where there are none. */
  map: LinearMap | null
  /** What the positions scatter by where how they are derived has told that; null where a fit has to tell it. */
  scatter: Scatter | null
  /** How it is derived, what is empty and why, for the person who asks; null where it isn't. */
  note: string | null
  /** What has to be said before it has values; null where nothing is missing. */
  asks: string | null
  /** Bound on how far each value is off by smoothing; NaN where it can't be told. Worked out when it is asked for; 0 where nothing is derived. */
  bias: () => Float64Array
  /** Adds how the value of `rows[i]`, so many times, goes with the marks' errors. */
  addSensitivity: (i: number, times: number, into: ErrorSensitivity) => void
  /** Derivative of each value with respect to a parameter of the calibration; NaN where there is no value. */
  calibrationSensitivities: Sensitivities
}

/**
 * Parameters of the calibration that all values depend on: the logarithms of the scales of lengths and times, the axes'
 * origin along both directions of the picture, in pixels, the axes' tilt, and the direction of gravity, in radians.
 */
export const CALIBRATION_PARAMETERS = ['length', 'time', 'originX', 'originY', 'tilt', 'gravity'] as const
export type CalibrationParameter = (typeof CALIBRATION_PARAMETERS)[number]

type Sensitivities = Record<CalibrationParameter, () => Float64Array>

/** A record with one entry per parameter of the calibration. */
export const perParameter = <T>(make: (parameter: CalibrationParameter) => T) =>
  Object.fromEntries(CALIBRATION_PARAMETERS.map((parameter) => [parameter, make(parameter)])) as Record<
    CalibrationParameter,
    T
  >

/** Half the angle in radians over which derivatives by the direction of gravity are taken. */
const SMALL_TURN = 1e-4

/** When each row begins and ends to be there, its middle, and the rows before which the motion breaks. */
export interface Course {
  from: Float64Array
  to: Float64Array
  times: Float64Array
  breaks: ReadonlySet<number>
}

const ACROSS = 'Nothing is derived across a break or a gap.'

const ASKS: Record<Need, string> = {
  mass: 'The mass of this body is not known yet: say it under Measure, “What moves?”.',
  masses: 'This takes the masses of all bodies: say them under Measure, “What moves?”.',
  scale: 'This takes a scale: set a reference length under Measure, “How big is it?”.',
  second: 'This takes a second point of the body, which shows how it is turned.',
  other: 'This takes another body.',
}

/** Angles without jumps: each within half a turn of the one before. */
function unwrapped(angles: Float64Array): Float64Array {
  let turns = 0
  return angles.map((angle, i) => {
    if (i > 0) turns -= Math.round((angle - angles[i - 1]) / (2 * Math.PI))
    return angle + 2 * Math.PI * turns
  })
}

/** What is worked out when it is asked for first, and then known. */
export function once<T>(make: () => T): () => T {
  let made: { value: T } | null = null
  return () => {
    made ??= { value: make() }
    return made.value
  }
}

/** Makes the columns of one body's table, each when it is asked for. */
export class Columns {
  private readonly made = new Map<string, Column>()
  private readonly places = new Map<string, PlaceColumn>()
  private readonly derivatives = new Map<string, { course: CoursePoints; derived: Derived }>()
  private readonly courses = new Map<string, CoursePoints>()
  private readonly count: number
  /** Columns of the bodies that quantities between two, or of all, are made of, this one among them. */
  others: Record<'pair' | 'all', () => Columns[]> = { pair: () => [], all: () => [] }

  constructor(
    private readonly marks: PlacedMarks,
    readonly course: Course,
    private readonly known: {
      world: World
      length: LengthUnit
      axes: AxesInScene
      derivation: Derivation
      /** A quantity that somebody has defined. */
      own: (id: string) => Defined | null
    },
  ) {
    this.count = marks.count
  }

  column(id: string): Column {
    const ready = this.made.get(id)
    if (ready) return ready
    const column = Object.hasOwn(QUANTITIES, id)
      ? this.make(QUANTITIES[id as keyof typeof QUANTITIES])
      : this.ofOwn(id)
    this.made.set(id, column)
    return column
  }

  private ofOwn(id: string): Column {
    const own = this.known.own(id)
    if (!own) throw new RangeError(`There is no quantity ${id}.`)
    return own.quantity ? this.make(own.quantity) : this.empty({ ...QUANTITIES.v, id, unit: '' }, own.trouble)
  }

  private make(quantity: Quantity): Column {
    const missing = quantity.needs.find((need) => !this.has(need))
    if (missing) return this.empty(quantity, ASKS[missing])
    switch (quantity.kind) {
      case 'place':
        return this.ofPlaces(quantity)
      case 'rate':
        return this.rate(quantity)
      case 'joint':
        return this.joint(quantity)
      case 'shared':
        return this.shared(quantity)
      case 'path':
        return this.path(quantity)
    }
  }

  private has(need: Need): boolean {
    const { world, length } = this.known
    const all = () => this.others.all()
    switch (need) {
      case 'mass':
        return world.mass > 0
      case 'masses':
        return all().every(({ known }) => known.world.mass > 0)
      case 'scale':
        return length !== 'px'
      case 'second':
        return this.marks.hasSeconds
      case 'other':
        return this.others.pair().length === 2
    }
  }

  private spread(rows: number[], numbers: ArrayLike<number>): Float64Array {
    if (rows.length === this.count) return new Float64Array(numbers)
    const all = new Float64Array(this.count).fill(Number.NaN)
    for (let i = 0; i < rows.length; i++) all[rows[i]] = numbers[i]
    return all
  }

  /** What a column says where nothing is derived and nothing is missing. */
  private plain(info: QuantityInfo) {
    const { id, dimension, unit } = info
    return {
      ...{ quantity: id, info },
      dimension,
      unit: unit ?? unitOf(dimension, this.known.length),
      ...{ place: null, map: null, scatter: null, note: null, asks: null },
      bias: () => new Float64Array(this.count),
    }
  }

  /** A column without values. */
  private empty(info: QuantityInfo, asks: string | null): Column {
    const none = this.spread([], [])
    return {
      ...this.plain(info),
      asks,
      values: none,
      errors: none,
      rows: [],
      addSensitivity: () => {},
      calibrationSensitivities: this.powers(none, { length: 0, time: 0 }),
    }
  }

  /**
   * Sensitivities of values that are lengths and times to some powers.
   *
   * @param placed those by the origin, the tilt and the direction of gravity; 0 where it is left out
   */
  private powers(
    values: Float64Array,
    exponents: { length: number; time: number },
    placed: (parameter: CalibrationParameter) => Float64Array = () => new Float64Array(values.length),
  ): Sensitivities {
    return perParameter((parameter) =>
      once(() =>
        parameter === 'length' || parameter === 'time'
          ? values.map((value) => exponents[parameter] * value)
          : placed(parameter),
      ),
    )
  }

  /** Sensitivities of a quantity of places, one for each of its rows. */
  private placeSensitivity({ rows, slopes }: PlaceColumn, parameter: CalibrationParameter): Float64Array {
    const { origin, turn, turnByOrigin } = this.known.axes
    /** Shift of the origin, and turn of the axes, in the scene. */
    const moves: Partial<Record<CalibrationParameter, { x: number; y: number; turn: number }>> = {
      originX: { x: origin[0][0], y: origin[1][0], turn: turnByOrigin[0] },
      originY: { x: origin[0][1], y: origin[1][1], turn: turnByOrigin[1] },
      tilt: { x: 0, y: 0, turn },
    }
    const move = moves[parameter]
    if (!move) return new Float64Array(rows.length)
    return Float64Array.from(rows, (row, i) => {
      const gain = (at: Point, [x, y]: readonly number[]) =>
        move.turn * (x * at.y - y * at.x) - x * move.x - y * move.y
      const second = slopes[i].length >= 4 ? this.marks.second(row) : null
      return (
        gain(this.marks.place(row), slopes[i].slice(0, 2)) + (second ? gain(second, slopes[i].slice(2)) : 0)
      )
    })
  }

  /** The numbers of all places that a quantity of places has. */
  private placesOf(quantity: PlaceQuantity): PlaceColumn {
    const ready = this.places.get(quantity.id)
    if (ready) return ready
    const { world } = this.known
    const rows: number[] = []
    const slopes: (readonly number[])[] = []
    const [all, allErrors] = [new Float64Array(this.count), new Float64Array(this.count)]
    for (let row = 0; row < this.count; row++) {
      const found = quantity.at(this.marks.place(row), world, this.marks.second(row))
      if (!found) continue
      all[rows.length] = found.value
      allErrors[rows.length] = this.marks.error(row, found.slopes)
      rows.push(row)
      slopes.push(found.slopes)
    }
    const values = all.subarray(0, rows.length)
    const frames = rows.map((row) => this.marks.frames[row])
    // Second points are marked by hand.
    const correlation = quantity.needs.includes('second') ? 0 : this.marks.correlation
    const column: PlaceColumn = {
      ...{ quantity, rows, slopes, frames, correlation },
      errorMap: once(() => errorMapOf(column)),
      values: quantity.turns ? unwrapped(values) : values,
      errors: allErrors.subarray(0, rows.length),
    }
    this.places.set(quantity.id, column)
    return column
  }

  private positionSensitivity(
    { rows, slopes }: PlaceColumn,
    i: number,
    times: number,
    into: ErrorSensitivity,
  ): void {
    this.addRowSensitivity(rows[i], slopes[i], times, into)
  }

  /** Adds how a number goes with a row's errors that goes so with its places. */
  private addRowSensitivity(
    row: number,
    slopes: readonly number[],
    times: number,
    into: ErrorSensitivity,
  ): void {
    const { number } = this.known.world
    const { frames } = this.marks
    const shares = this.marks.errorShares(row)
    for (let which = 0; which < slopes.length; which++) {
      const by = times * this.marks.sensitivity(row, slopes, which)
      // Second points are marked by hand: their errors are their own.
      if (which > 1) into.add(errorNumber(number, frames[row], which), by)
      else
        shares.forEach((share, k) => {
          into.add(errorNumber(number, frames[row - k], which), share * by)
        })
    }
  }

  private ofPlaces(quantity: PlaceQuantity): Column {
    const place = this.placesOf(quantity)
    const values = this.spread(place.rows, place.values)
    return {
      ...this.plain(quantity),
      values,
      errors: this.spread(place.rows, place.errors),
      rows: place.rows,
      place,
      calibrationSensitivities: this.powers(
        values,
        { length: quantity.dimension.length, time: 0 },
        (parameter) => this.spread(place.rows, this.placeSensitivity(place, parameter)),
      ),
      addSensitivity: (i, times, into) => this.positionSensitivity(place, i, times, into),
    }
  }

  /** Derivatives depend on the times only, so what has the same rows shares them. */
  private derivedFrom(place: PlaceColumn, order: 1 | 2): { course: CoursePoints; derived: Derived } {
    const { derivation } = this.known
    const method = DERIVATIVES[derivation.method]
    const whose = place.rows.length < this.count ? place.quantity.id : ''
    const key = `${method.readsValues ? place.quantity.id : whose} ${order}`
    const ready = this.derivatives.get(key)
    if (ready) return ready
    const course = this.courses.get(whose) ?? pickPoints(this.course, place.rows)
    this.courses.set(whose, course)
    const made = {
      course,
      derived: method.derive(course, order, derivation.reach, place.values, derivation.weighted),
    }
    this.derivatives.set(key, made)
    return made
  }

  private rate(quantity: RateQuantity): Column {
    const { derivation } = this.known
    const method = DERIVATIVES[derivation.method]
    const place = this.placesOf(QUANTITIES[quantity.of] as PlaceQuantity)
    const { course, derived } = this.derivedFrom(place, quantity.order)
    const isWhole = place.rows.length === this.count
    const rows = isWhole ? derived.rows : derived.rows.map((i) => place.rows[i])
    const values = this.spread(rows, applyMap(derived.map, place.values))
    return {
      ...this.plain(quantity),
      values,
      calibrationSensitivities: this.powers(
        values,
        { length: quantity.dimension.length, time: -quantity.order },
        (parameter) => this.spread(rows, applyMap(derived.map, this.placeSensitivity(place, parameter))),
      ),
      errors: this.spread(rows, mappedErrors(derived, place.errorMap())),
      rows,
      place,
      map: derived.map,
      scatter: derived.scatter ?? null,
      note: `${method.explain(derivation)} ${ACROSS}`,
      bias: once(() => this.spread(rows, biasBounds(course, derived, method.exact, place.values))),
      addSensitivity: (i, times, into) => {
        derived.map.coefficients[i].forEach((coefficient, k) => {
          this.positionSensitivity(place, derived.map.start[i] + k, times * coefficient, into)
        })
      },
    }
  }

  private joint(quantity: JointQuantity): Column {
    const from = quantity.from.map((id) => (id === 't' ? this.time() : this.column(id)))
    const asking = from.find(({ asks }) => asks)
    if (asking) return this.empty(quantity, asking.asks)
    const { world } = this.known
    const at = (row: number, turn: number) =>
      quantity.at(
        from.map(({ values }) => values[row]),
        turnedWorld(world, turn),
        from.map(({ errors }) => errors[row]),
      )
    return this.following(quantity, from, at)
  }

  /** The time of each row, as a column without errors. */
  private time(): Column {
    return {
      ...this.plain({ ...QUANTITIES.x, dimension: dimension({ time: 1 }), id: 't' }),
      values: this.course.times,
      calibrationSensitivities: this.powers(this.course.times, { length: 0, time: 1 }),
      errors: new Float64Array(this.count),
      rows: Array.from(this.course.times.keys()),
      addSensitivity: () => {},
    }
  }

  private shared(quantity: SharedQuantity): Column {
    const bodies = this.others[quantity.among]()
    // Columns of another body are told by the frame, in the rows of this one.
    const from = bodies.flatMap((columns) =>
      quantity.from.map((id) => (columns === this ? this.column(id) : this.inOwnRows(columns, id))),
    )
    const each = quantity.from.length
    const worlds = bodies.map(({ known }) => known.world)
    const at = (row: number, turn: number) =>
      quantity.at(
        bodies.map((_, body) => from.slice(body * each, (body + 1) * each).map(({ values }) => values[row])),
        worlds.map((world) => turnedWorld(world, turn)),
      )
    return this.following(quantity, from, at)
  }

  /** A column of another body, in the rows of this one's table: where both have a mark in the same frame. */
  private inOwnRows(columns: Columns, id: string): Column {
    const column = columns.column(id)
    const rowOf = new Map(columns.marks.frames.map((frame, row) => [frame, row]))
    const there = this.marks.frames.map((frame) => rowOf.get(frame) ?? -1)
    const placeOf = new Map(column.rows.map((row, i) => [row, i]))
    const rows = there.flatMap((row, own) => (placeOf.has(row) ? [own] : []))
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
      addSensitivity: (i, times, into) => column.addSensitivity(placeOf.get(there[rows[i]])!, times, into),
    }
  }

  /**
   * A column whose values follow from those of others in the same row, to first order with their errors.
   *
   * @param at the value in a row where the direction of gravity is turned by an angle in radians
   */
  private following(
    quantity: QuantityInfo,
    from: Column[],
    at: (row: number, turn: number) => Sloped | null,
  ): Column {
    const rows: number[] = []
    const found: Sloped[] = []
    let endless = 0
    for (let row = 0; row < this.count; row++) {
      if (from.some((column) => Number.isNaN(column.values[row]))) continue
      const one = at(row, 0)
      if (one && !Number.isFinite(one.value)) endless++
      if (!one || !Number.isFinite(one.value)) continue
      rows.push(row)
      found.push(one)
    }
    const placeIn = from.map((column) => {
      const places = new Int32Array(this.count).fill(-1)
      column.rows.forEach((row, i) => {
        places[row] = i
      })
      return places
    })
    const sensitivityThrough = (i: number, times: number, into: ErrorSensitivity) => {
      from.forEach((column, c) => {
        const slope = found[i].slopes[c]
        if (slope !== 0) column.addSensitivity(placeIn[c][rows[i]], times * slope, into)
      })
      for (const [error, by] of found[i].common ?? []) into.add(error, times * by)
    }
    // Of those that stand on each other it is worked out once a row: else the last of a long chain would take forever.
    const known: ErrorSensitivity[] = []
    const isChained = from.some(({ quantity: id }) => id !== 't' && !Object.hasOwn(QUANTITIES, id))
    const sensitivity: Column['addSensitivity'] = !isChained
      ? sensitivityThrough
      : (i, times, into) => {
          if (!known[i]) {
            known[i] = new ErrorSensitivity()
            sensitivityThrough(i, 1, known[i])
          }
          known[i].each((error, by) => into.add(error, times * by))
        }
    const one = new ErrorSensitivity()
    const errors = rows.map((row, i) => {
      one.clear()
      sensitivity(i, 1, one)
      return one.size() * widened(from, row, placeIn)
    })
    /** Derivatives by the direction of gravity, where a value depends on it other than through other columns. */
    const byGravity = once(() =>
      rows.map((row) => {
        const [on, back] = [SMALL_TURN, -SMALL_TURN].map((turn) => at(row, turn)?.value ?? Number.NaN)
        const slope = (on - back) / (2 * SMALL_TURN)
        return Number.isFinite(slope) ? slope : 0
      }),
    )
    /** With the axes the direction of gravity turns, as they show it. */
    const { turn, turnByOrigin } = this.known.axes
    const turns: Partial<Record<CalibrationParameter, number>> = {
      ...{ gravity: 1, tilt: turn, originX: turnByOrigin[0], originY: turnByOrigin[1] },
    }
    const sensitivities = perParameter((parameter) =>
      once(() => {
        const gains = from.map((column) => column.calibrationSensitivities[parameter]())
        const own = turns[parameter]
        return this.spread(
          rows,
          rows.map((row, i) =>
            gains.reduce(
              (sum, gain, c) => sum + found[i].slopes[c] * gain[row],
              own === undefined ? 0 : own * byGravity()[i],
            ),
          ),
        )
      }),
    )
    const notes = new Set(from.map(({ note }) => note).filter((note) => note !== null))
    if (endless > 0)
      notes.add(
        `In ${endless === 1 ? 'one row' : `${endless} rows`} it has no value: it divides by zero, or the like.`,
      )
    return {
      ...this.plain(quantity),
      values: this.spread(
        rows,
        found.map(({ value }) => value),
      ),
      errors: this.spread(rows, errors),
      rows,
      note: notes.size > 0 ? [...notes].join(' ') : null,
      calibrationSensitivities: sensitivities,
      bias: once(() => {
        const bounds = from.map((column) => column.bias())
        return this.spread(
          rows,
          rows.map((row, i) =>
            bounds.reduce((sum, bound, c) => sum + Math.abs(found[i].slopes[c]) * bound[row], 0),
          ),
        )
      }),
      addSensitivity: sensitivity,
    }
  }

  private path(quantity: PathQuantity): Column {
    const rows = Array.from(this.course.times.keys())
    const places = rows.map((row) => this.marks.place(row))
    const variances = rows.map((row) => this.marks.variance(row))
    const { lengths, steps, bends } = pathThrough(places, variances)
    const sensitivity = (i: number, times: number, into: ErrorSensitivity) => {
      // From the place back over the corners: each is the end of one step and the beginning of the next.
      let after: Point = { x: 0, y: 0 }
      for (let at = i; ; at = steps[at].from) {
        const { along } = at === 0 ? { along: { x: 0, y: 0 } } : steps[at]
        this.addRowSensitivity(at, [along.x - after.x, along.y - after.y], times, into)
        if (at === 0) break
        after = along
      }
    }
    const values = this.spread(rows, lengths)
    return {
      ...this.plain(quantity),
      values,
      calibrationSensitivities: this.powers(values, { length: 1, time: 0 }),
      errors: this.spread(rows, this.pathErrors(steps)),
      rows,
      bias: () => Float64Array.from(bends),
      addSensitivity: sensitivity,
    }
  }

  /** Standard errors of the path's lengths: the corners' shares add up along it. */
  private pathErrors(steps: { from: number; along: Point }[]): number[] {
    const variance = (row: number, { x, y }: Point) => this.marks.error(row, [x, y]) ** 2
    /** Of each corner: what the corners before it add, where the path goes on beyond it. */
    const before = new Map<number, number>([[0, 0]])
    return steps.map(({ from, along }, row) => {
      if (row === 0) return 0
      const here = steps[from]
      const into = from === 0 ? { x: 0, y: 0 } : here.along
      const turn = { x: into.x - along.x, y: into.y - along.y }
      const atCorner = (before.get(from) ?? 0) + variance(from, turn)
      before.set(row, atCorner)
      return Math.sqrt(atCorner + variance(row, along))
    })
  }
}

/** A world in which the direction of gravity is turned, as turning the axes by that angle shows it. */
function turnedWorld(world: World, turn: number): World {
  if (turn === 0) return world
  const { x, y } = world.down
  return { ...world, down: { x: x + turn * y, y: y - turn * x } }
}

/** By how much errors are more than the marks make them, where how something is derived has reckoned in its own. */
function widened(from: Column[], row: number, placeIn: Int32Array[]): number {
  return from.reduce((most, column, c) => {
    if (!column.scatter) return most
    const one = new ErrorSensitivity()
    column.addSensitivity(placeIn[c][row], 1, one)
    return Math.max(most, column.errors[row] / one.size())
  }, 1)
}

/** Map from independent errors of unit variance to the errors of places, in their unit. */
function errorMapOf({ errors, frames, correlation }: PlaceColumn): LinearMap {
  const start: number[] = []
  const coefficients = Array.from(errors, (error, i) => {
    const shares = errorShares(frames, i, correlation).reverse()
    start.push(i - shares.length + 1)
    return shares.map((share) => share * error)
  })
  return { start, coefficients }
}

/** Standard errors of what is derived from values with the errors of a map. */
function mappedErrors({ map, widened }: Derived, errors: LinearMap): Float64Array {
  const { coefficients } = composedMap(map, errors)
  return Float64Array.from(
    coefficients,
    (row, i) => (widened ? widened[i] : 1) * Math.sqrt(row.reduce((sum, one) => sum + one * one, 0)),
  )
}
