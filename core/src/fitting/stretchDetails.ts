import {
  type Column,
  derivativeAt,
  ErrorSensitivity,
  type MotionTable,
  pointsIn,
  type Range,
  turningPoints,
} from '../motion/index.ts'
import { median } from '../time/index.ts'
import type { SummaryValue } from './stretchSummary.ts'

/** A moment with its standard error, and the value there. */
export interface Moment {
  time: SummaryValue
  value: number
  kind: 'maximum' | 'minimum' | 'up' | 'down'
}

/** What the points of a stretch say beyond a glance. */
export interface StretchDetails {
  points: number
  /** Standard deviation of the values about their mean. */
  deviation: number
  median: number
  least: number
  most: number
  /** Area between the curve and zero, counted against the sign, by the trapezoidal rule. */
  area: SummaryValue
  peaks: Moment[]
  crossings: Moment[]
  /** Mean of the times between moments of the same kind, with their standard deviation; null where there are none. */
  period: { mean: number; deviation: number; count: number } | null
}

/** Share of the points between two turns that tell where a turn is. */
const ABOUT = 0.5
/** Fewest points on either side that do. */
const LEAST_REACH = 2

/**
 * Sums up the points of a column in a stretch: how they are spread, the area under them, where they turn and where
 * they cross zero. A turn is the vertex of the least-squares parabola through the points about it, a crossing the zero
 * of the line through them; both follow from weighed sums of the values, and so their standard errors know which
 * points share marks.
 */
export function stretchDetails(table: MotionTable, quantity: string, range: Range): StretchDetails {
  const column = table.column(quantity)
  const picked = pointsIn(table, column, range)
  const times = picked.map((i) => table.times[column.rows[i]])
  const values = picked.map((i) => column.values[column.rows[i]])
  const count = values.length
  const mean = values.reduce((sum, value) => sum + value / count, 0)
  const points: StretchPoints = { column, picked, times, values }
  const turns = turningPoints(values)
  const spacing = turns.length > 1 ? (turns[turns.length - 1] - turns[0]) / (turns.length - 1) : count / 2
  const reach = Math.max(LEAST_REACH, Math.round((ABOUT * spacing) / 2))
  const peaks = turns.flatMap((at) => vertexAt(points, at, reach) ?? [])
  const crossings = crossingsOf(values, turns).flatMap((at) => zeroAt(points, at, reach) ?? [])
  const area = times.map((time, i) => ((times[i + 1] ?? time) - (times[i - 1] ?? time)) / 2)
  return {
    points: count,
    deviation: Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / (count - 1)),
    median: median(values),
    least: Math.min(...values),
    most: Math.max(...values),
    area: weightedSum(points, 0, area),
    peaks,
    crossings,
    period: periodOf([...peaks, ...crossings]),
  }
}

/** The points of a stretch: indices in the column, times and values. */
interface StretchPoints {
  column: Column
  picked: readonly number[]
  times: readonly number[]
  values: readonly number[]
}

/** Returns the sum of values times `weights`, from point `first` on. */
function weightedValue({ values }: StretchPoints, first: number, weights: readonly number[]): number {
  return weights.reduce((sum, weight, k) => sum + weight * values[first + k], 0)
}

/** Returns the sum of values times `weights` with its error, from point `first` on. */
function weightedSum(points: StretchPoints, first: number, weights: readonly number[]): SummaryValue {
  const { column, picked } = points
  const sensitivity = new ErrorSensitivity()
  weights.forEach((weight, k) => {
    column.addSensitivity(picked[first + k], weight, sensitivity)
  })
  return {
    value: weightedValue(points, first, weights),
    error: sensitivity.size(),
  }
}

/** Returns the times of up to `reach` points on either side of a point, and the index of the first one. */
function around({ times }: StretchPoints, at: number, reach: number): { first: number; some: number[] } {
  const first = Math.max(0, at - reach)
  return { first, some: times.slice(first, Math.min(times.length, at + reach + 1)) }
}

/** Returns the vertex of the least-squares parabola about a point; null if it lies outside of the points. */
function vertexAt(points: StretchPoints, at: number, reach: number): Moment | null {
  const { first, some } = around(points, at, reach)
  if (some.length < 4) return null
  const middle = points.times[at]
  const [level, slope, bend] = polynomialWeights(
    some.map((time) => time - middle),
    2,
  )
  const dot = (weights: number[]) => weightedValue(points, first, weights)
  const [c, b, a] = [dot(level), dot(slope), dot(bend)]
  const off = -b / (2 * a)
  if (!(Math.abs(off) <= some[some.length - 1] - some[0])) return null
  // By how much the vertex moves where a value does.
  const { error } = weightedSum(
    points,
    first,
    slope.map((w, k) => -w / (2 * a) + (b * bend[k]) / (2 * a * a)),
  )
  return {
    time: { value: middle + off, error },
    value: c - (b * b) / (4 * a),
    kind: a < 0 ? 'maximum' : 'minimum',
  }
}

/** Returns the zero of the least-squares line about a point; null if it lies outside of the points. */
function zeroAt(points: StretchPoints, at: number, reach: number): Moment | null {
  const { first, some } = around(points, at, reach)
  if (some.length < 2) return null
  const middle = points.times[at]
  const [level, slope] = polynomialWeights(
    some.map((time) => time - middle),
    1,
  )
  const dot = (weights: number[]) => weightedValue(points, first, weights)
  const [c, b] = [dot(level), dot(slope)]
  const off = -c / b
  if (!(Math.abs(off) <= some[some.length - 1] - some[0])) return null
  const { error } = weightedSum(
    points,
    first,
    level.map((w, k) => -w / b + (c * slope[k]) / (b * b)),
  )
  return { time: { value: middle + off, error }, value: 0, kind: b > 0 ? 'up' : 'down' }
}

/** Returns the points after which the values have the other sign: the nearest to zero of the two, once between any two turns. */
function crossingsOf(values: number[], turns: number[]): number[] {
  const ends = [0, ...turns, values.length - 1]
  return ends.slice(1).flatMap((end, i) => {
    const start = ends[i]
    // From one turn to the next the values go one way, but for noise: the middle one of all changes of sign.
    const changes: number[] = []
    for (let k = start; k < end; k++) if (values[k] < 0 !== values[k + 1] < 0) changes.push(k)
    if (changes.length % 2 === 0) return []
    const k = changes[changes.length >> 1]
    return [Math.abs(values[k]) <= Math.abs(values[k + 1]) ? k : k + 1]
  })
}

function periodOf(moments: Moment[]): StretchDetails['period'] {
  const lasts = (['maximum', 'minimum', 'up', 'down'] as const).flatMap((kind) => {
    const times = moments.filter((one) => one.kind === kind).map(({ time }) => time.value)
    return times.slice(1).map((time, i) => time - times[i])
  })
  if (lasts.length === 0) return null
  const mean = lasts.reduce((sum, last) => sum + last / lasts.length, 0)
  const square = lasts.reduce((sum, last) => sum + (last - mean) ** 2, 0)
  return { mean, deviation: Math.sqrt(square / (lasts.length - 1)), count: lasts.length }
}

/** Returns the weights of the least-squares polynomial about time 0: `weights[k][i]` is ∂(coefficient k)/∂(value i). Shape: (degree + 1) × n. */
function polynomialWeights(times: number[], degree: 1 | 2): number[][] {
  return Array.from({ length: degree + 1 }, (_, power) =>
    derivativeAt(times, 0, degree, power).map((weight) => (power === 2 ? weight / 2 : weight)),
  )
}
