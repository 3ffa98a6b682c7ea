import {
  type Column,
  ErrorSensitivity,
  FOLLOWING_DRIFT,
  frameOfError,
  type MotionTable,
  type PositionColumn,
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
import type { CalibrationParameter } from '../scene/index.ts'
import type { ErrorSource } from './estimate.ts'

/** A shared error: the change of all n values of a sample by one standard error of it. */
export interface Shift {
  /** Identifies the error: one with the same key acts on several columns at once. */
  key: string
  source: ErrorSource
  freedom: number
  values: Float64Array
  /** Relative change of all times by one standard error. */
  timeScale: number
}

/** The points of a column that a fit uses, with the covariance of their errors; n points. */
export interface FitSample {
  rows: number[]
  frames: number[]
  /** Abscissas (times in s), and values. */
  places: Float64Array
  values: Float64Array
  /** Standard errors due to the marks. */
  errors: Float64Array
  /** Times of breaks within the sample. */
  breaks: number[]
  /** Times of the positions that a derived column comes from, and the map; null if it is not derived. */
  derivation: { times: Float64Array; map: LinearMap; order: 1 | 2 } | null
  /** Null: independent and equally well known. */
  whiten: Whiten | null
  /** For a smoothed column: the map from positions to values, and the variance of the positions about the smooth curve. */
  smoothed: { map: LinearMap; variance: number; freedom: number } | null
  shifts: Shift[]
  /** Correlation of neighbouring errors, estimated from the marks, for positions that were followed; null otherwise. */
  driftCorrelation: number | null
  /** Adds `factor` × ∂value[i]/∂error for every error of the marks, in the column's unit. */
  addSensitivity: (i: number, factor: number, into: ErrorSensitivity) => void
}

/** Most elements of a banded covariance: beyond that the points are treated as independent. */
const MOST_BANDED = 4e6

/**
 * Returns the points of a column within a range of frames.
 *
 * @param order which derivative of a position the column is; null: none
 * @throws FitError if there is none, or the column has no values
 */
export function fitSample(
  table: MotionTable,
  quantity: string,
  order: 0 | 1 | 2 | null,
  range: Range,
): FitSample {
  const column = table.column(quantity)
  if (column.missing) throw new FitError({ code: 'quantity-missing' })
  const picked = pointsIn(table, column, range)
  if (picked.length === 0) throw new FitError({ code: 'no-point-in-stretch' })
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
    addSensitivity: (i, factor, into) => column.addSensitivity(picked[i], factor, into),
    values: of(column.values),
    errors,
    breaks: [...table.breaks]
      .filter((row) => row > rows[0] && row <= rows[rows.length - 1])
      .sort((a, b) => a - b)
      .map((row) => (table.times[row - 1] + table.times[row]) / 2),
    derivation:
      map && column.position && (order === 1 || order === 2)
        ? derivationOf(table, column.position, map, order)
        : null,
    ...(column.scatter && map
      ? { whiten: null, smoothed: { map, ...column.scatter } }
      : { whiten: whitenOf(column, picked, map, errors), smoothed: null }),
    driftCorrelation: map === null && column.position?.correlation ? column.position.correlation : null,
    shifts: shiftsOf(table, column, picked, map),
  }
}

/**
 * Returns the shared errors of points of a column: scale, axes, clock, landmarks, and stated values.
 *
 * @param picked indices of the points in the column
 * @param map from positions to the picked points; null if they are not derived
 */
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
        key: `scale ${i}`,
        source,
        freedom,
        timeScale: 0,
        values: moved('length', error),
      }),
    ),
    ...table.axesErrors.map(
      ({ source, parameter, error }): Shift => ({
        key: parameter,
        source,
        freedom: Number.POSITIVE_INFINITY,
        timeScale: 0,
        values: moved(parameter, error),
      }),
    ),
    {
      key: 'timing',
      source: 'timing',
      freedom: Number.POSITIVE_INFINITY,
      timeScale: table.rateError,
      values: moved('time', table.rateError),
    },
    ...cameraShifts(table, column, picked, map),
    ...driftShifts(table, column, picked, map),
    // Positions and their derivatives depend on no stated value.
    ...(column.position ? [] : statedShifts(column, picked)),
  ]
}

/** Returns the map from positions to points of a derived column; null if it is not derived. */
export const pickedMap = (column: Column, picked: number[]) =>
  column.map ? pickRows(column.map, picked) : null

/** Returns the sensitivity of each point to the errors of the marks. */
export const markSensitivities = (column: Column, picked: number[]): ErrorSensitivity[] =>
  picked.map((i) => {
    const sensitivity = new ErrorSensitivity()
    column.addSensitivity(i, 1, sensitivity)
    return sensitivity.ofMarks()
  })

/** Returns the map with indices counted from the first position that it reads, and the times of those positions. */
function derivationOf(
  table: MotionTable,
  place: PositionColumn,
  map: LinearMap,
  order: 1 | 2,
): FitSample['derivation'] {
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
  const { position: place } = column
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

/** Returns the map from the errors of the marks, ordered by frame, to points of a combined column; null if it is too large. */
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

/** Returns what changes of all positions of a column make of its picked points. */
const pickedFrom = (positions: number[], picked: number[], map: LinearMap | null): Float64Array =>
  map ? applyMap(map, positions) : Float64Array.from(picked, (i) => positions[i])

/** Returns the shared errors of the landmarks of a moving camera. */
function cameraShifts(table: MotionTable, column: Column, picked: number[], map: LinearMap | null): Shift[] {
  const { position: place } = column
  const errors = table.cameraErrors()
  // The difference of two points of one picture hardly depends on the camera.
  if (!errors || !place || place.quantity.needs.includes('second')) return []
  return errors.map(({ row: first, x, y }, number): Shift => {
    const numbers = place.rows.map((row, i) => {
      const at = row - first
      return at >= 0 && at < x.length ? place.gradients[i][0] * x[at] + place.gradients[i][1] * y[at] : 0
    })
    return {
      key: `camera ${number}`,
      source: 'camera',
      freedom: Number.POSITIVE_INFINITY,
      values: pickedFrom(numbers, picked, map),
      timeScale: 0,
    }
  })
}

/** Returns the errors due to a slow drift of followed marks; none for marks by hand. */
function driftShifts(table: MotionTable, column: Column, picked: number[], map: LinearMap | null): Shift[] {
  const { position: place } = column
  const perPixel = place?.perPixel
  if (!place || !perPixel || picked.length < 2) return []
  const timeOf = (i: number) => table.times[column.rows[picked[i]]]
  const [first, last] = [timeOf(0), timeOf(picked.length - 1)]
  const { id } = place.quantity
  const { along, bend } = FOLLOWING_DRIFT
  return [along, bend].map((size, k): Shift => {
    const numbers = place.rows.map((row, i) => {
      const u = (2 * (table.times[row] - first)) / (last - first) - 1
      return size * perPixel[i] * (k === 0 ? u : (3 * u * u - 1) / 2)
    })
    return {
      // Other points drift in another way.
      key: `drift ${table.body} ${id} ${k} ${first} ${last}`,
      source: 'following',
      freedom: Number.POSITIVE_INFINITY,
      values: pickedFrom(numbers, picked, map),
      timeScale: 0,
    }
  })
}

/** Returns the errors of stated values, such as a mass or a constant, which all points share. */
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
    key: `stated ${error}`,
    source: 'stated',
    freedom: Number.POSITIVE_INFINITY,
    values,
    timeScale: 0,
  }))
}
