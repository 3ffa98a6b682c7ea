import {
  type CalibrationParameter,
  type Column,
  ErrorSensitivity,
  frameOfError,
  type MotionTable,
  type PlaceColumn,
  pointsIn,
  type Range,
} from '../motion/index.ts'
import {
  applyMap,
  autoregressiveWhitening,
  composedMap,
  diagonalWhitening,
  FitError,
  type LinearMap,
  linearMapWhitening,
  pickRows,
  type Whiten,
} from '../regression/index.ts'
import type { ErrorSource } from './estimate.ts'

/** An error that moves all points at once: by how much where it is one standard error. */
export interface Shift {
  /** Which error it is: the same one moves the points of several columns together. */
  key: string
  source: ErrorSource
  freedom: number
  values: Float64Array
  /** Share by which all times grow along with it. */
  stretch: number
}

/** The points of a column against time that a fit takes, with what their errors have to do with each other. */
export interface FitSample {
  rows: number[]
  frames: number[]
  /** Times, and values, of each. */
  places: Float64Array
  values: Float64Array
  /** Standard errors that come from the marks. */
  errors: Float64Array
  /** Moments at which the motion breaks between them. */
  breaks: number[]
  /** How a derived column comes from positions at some times; null where it isn't derived. */
  carried: { times: Float64Array; map: LinearMap; order: 1 | 2 } | null
  /** Null: they are taken as independent and equally well known. */
  whiten: Whiten | null
  /** Where how it is derived has told what the positions scatter by: that, and how values come from positions. */
  smoothed: { map: LinearMap; variance: number; freedom: number } | null
  shifts: Shift[]
  /** Correlation of neighbouring errors that the marks themselves tell, of positions that were followed; null of all others. */
  drift: number | null
  /** Adds how the value of a point, so many times, goes with the marks' errors. */
  sensitivity: (i: number, times: number, into: ErrorSensitivity) => void
}

/** Numbers in a banded covariance at most: beyond that each point is taken to be by itself. */
const MOST_BANDED = 4e6

/** Takes the points of a column between two frames. Throws a FitError where there is none. */
export function fitSample(
  table: MotionTable,
  quantity: string,
  order: 0 | 1 | 2 | null,
  range: Range,
): FitSample {
  const column = table.column(quantity)
  if (column.asks) throw new FitError(column.asks)
  const picked = pointsIn(table, column, range)
  if (picked.length === 0) throw new FitError('No point of this quantity lies in the stretch.')
  const rows = picked.map((i) => column.rows[i])
  const map = pickedMap(column, picked)
  const of = (all: ArrayLike<number>) => {
    const values = new Float64Array(rows.length)
    for (let i = 0; i < rows.length; i++) values[i] = all[rows[i]]
    return values
  }
  const errors = of(column.errors)
  return {
    rows,
    frames: rows.map((row) => table.frames[row]),
    places: of(table.times),
    sensitivity: (i, times, into) => column.addSensitivity(picked[i], times, into),
    values: of(column.values),
    errors,
    breaks: [...table.breaks]
      .filter((row) => row > rows[0] && row <= rows[rows.length - 1])
      .sort((a, b) => a - b)
      .map((row) => (table.times[row - 1] + table.times[row]) / 2),
    carried:
      map && column.place && (order === 1 || order === 2)
        ? carriedFrom(table, column.place, map, order)
        : null,
    ...(column.scatter && map
      ? { whiten: null, smoothed: { map, ...column.scatter } }
      : { whiten: whitenOf(column, picked, map, errors), smoothed: null }),
    drift: map === null && column.place?.correlation ? column.place.correlation : null,
    shifts: shiftsOf(table, column, picked, map),
  }
}

/** What moves picked points of a column all at once: the scale, the axes, the clock, landmarks, and what somebody has stated. */
export function shiftsOf(
  table: MotionTable,
  column: Column,
  picked: number[],
  map: LinearMap | null,
): Shift[] {
  const moved = (by: CalibrationParameter, error: number) => {
    const gains = column.calibrationSensitivities[by]()
    return Float64Array.from(picked, (i) => error * gains[column.rows[i]])
  }
  return [
    ...(table.scale?.parts ?? []).map(
      ({ source, error, freedom }, i): Shift => ({
        ...{ key: `scale ${i}`, source, freedom, stretch: 0 },
        values: moved('length', error),
      }),
    ),
    ...table.axesErrors.map(
      ({ source, parameter, error }): Shift => ({
        ...{ key: parameter, source, freedom: Number.POSITIVE_INFINITY, stretch: 0 },
        values: moved(parameter, error),
      }),
    ),
    {
      ...{ key: 'timing', source: 'timing', freedom: Number.POSITIVE_INFINITY, stretch: table.rateError },
      values: moved('time', table.rateError),
    },
    ...cameraShifts(table, column, picked, map),
    // Marks alone make what is not made of several columns.
    ...(column.place ? [] : statedShifts(column, picked)),
  ]
}

/** How picked points of a derived column come from positions; null where it isn't derived. */
export const pickedMap = (column: Column, picked: number[]) =>
  column.map ? pickRows(column.map, picked) : null

/** How each of some picked points goes with the marks' errors. */
export const markSensitivities = (column: Column, picked: number[]): ErrorSensitivity[] =>
  picked.map((i) => {
    const sensitivity = new ErrorSensitivity()
    column.addSensitivity(i, 1, sensitivity)
    return sensitivity.ofMarks()
  })

/** The part of a map that the picked rows read, from the first mark that any of them does. */
function carriedFrom(
  table: MotionTable,
  place: PlaceColumn,
  map: LinearMap,
  order: 1 | 2,
): FitSample['carried'] {
  const first = map.start.reduce((least, start) => Math.min(least, start))
  const end = map.start.reduce((most, start, i) => Math.max(most, start + map.coefficients[i].length), 0)
  const times = Float64Array.from(place.rows.slice(first, end), (row) => table.times[row])
  const start = map.start.map((one) => one - first)
  return { times, map: { start, coefficients: map.coefficients }, order }
}

function whitenOf(
  column: Column,
  picked: number[],
  map: LinearMap | null,
  errors: Float64Array,
): Whiten | null {
  const { place } = column
  if (place) {
    if (!(map ? place.errors : errors).every(isKnown)) return null
    if (map) return linearMapWhitening(composedMap(map, place.errorMap()))
    if (place.correlation === 0) return diagonalWhitening(errors)
    return autoregressiveWhitening(
      errors,
      picked.map((at, i) =>
        i === 0 ? 0 : place.correlation ** (place.frames[at] - place.frames[picked[i - 1]]),
      ),
    )
  }
  if (!errors.every(isKnown)) return null
  const shared = sharedMap(column, picked)
  return shared ? linearMapWhitening(shared) : diagonalWhitening(errors)
}

const isKnown = (error: number) => Number.isFinite(error) && error > 0

/** How the values of what follows from several others come from the marks' errors: those of one frame beside each other. */
function sharedMap(column: Column, picked: number[]): LinearMap | null {
  const sensitivities = markSensitivities(column, picked)
  const known = new Set<number>()
  for (const sensitivity of sensitivities) sensitivity.each((error) => known.add(error))
  const placeOf = new Map(
    [...known]
      .sort((a, b) => frameOfError(a) - frameOfError(b) || a - b)
      .map((error, place) => [error, place]),
  )
  const start: number[] = []
  const coefficients: number[][] = []
  let entries = 0
  for (const sensitivity of sensitivities) {
    let [from, to] = [Number.POSITIVE_INFINITY, -1]
    sensitivity.each((error) => {
      const place = placeOf.get(error)!
      from = Math.min(from, place)
      to = Math.max(to, place)
    })
    if (to < 0) return null
    const row = new Array<number>(to - from + 1).fill(0)
    sensitivity.each((error, by) => {
      row[placeOf.get(error)! - from] += by
    })
    entries += row.length
    if (entries * row.length > MOST_BANDED) return null
    start.push(from)
    coefficients.push(row)
  }
  return { start, coefficients }
}

/** Each of the landmarks' errors moves many positions at once. */
function cameraShifts(table: MotionTable, column: Column, picked: number[], map: LinearMap | null): Shift[] {
  const { place } = column
  const errors = table.cameraErrors()
  // What lies between two points of one picture hardly moves with the camera.
  if (!errors || !place || place.quantity.needs.includes('second')) return []
  return errors.map(({ row: first, x, y }, number): Shift => {
    const numbers = place.rows.map((row, i) => {
      const at = row - first
      return at >= 0 && at < x.length ? place.slopes[i][0] * x[at] + place.slopes[i][1] * y[at] : 0
    })
    const values = map ? applyMap(map, numbers) : Float64Array.from(picked, (i) => numbers[i])
    return {
      ...{ key: `camera ${number}`, source: 'camera', freedom: Number.POSITIVE_INFINITY },
      ...{ values, stretch: 0 },
    }
  })
}

/** Errors of what somebody has stated, a mass or a constant, which all values share. */
function statedShifts(column: Column, picked: number[]): Shift[] {
  const found = new Map<number, Float64Array>()
  const sensitivity = new ErrorSensitivity()
  picked.forEach((at, i) => {
    sensitivity.clear()
    column.addSensitivity(at, 1, sensitivity)
    sensitivity.each((error, by) => {
      if (error >= 0 || by === 0) return
      const values = found.get(error) ?? new Float64Array(picked.length)
      values[i] += by
      found.set(error, values)
    })
  })
  return [...found].map(([error, values]) => ({
    ...{ key: `stated ${error}`, source: 'stated', freedom: Number.POSITIVE_INFINITY, values, stretch: 0 },
  }))
}
