import { type DerivationPoints, type Derived, ownPoints, runsOf } from './derivationPoints.ts'

/**
 * Returns how a derivative, at one time, of the least-squares polynomial through points comes from their values. By
 * polynomials that are orthogonal on the points (Forsythe, J. Soc. Indust. Appl. Math. 5 (1957) 74), which is
 * stable at any degree and on any times.
 *
 * @param times of the points, in seconds; more than `degree` different ones
 * @param at the time that is asked for, in seconds
 * @param weights what each point counts for; all the same where there are none
 * @returns one coefficient a point
 */
export function derivativeAt(
  times: ArrayLike<number>,
  at: number,
  degree: number,
  order: number,
  weights: ArrayLike<number> | null = null,
): number[] {
  const count = times.length
  let scale = 0
  for (let j = 0; j < count; j++) scale = Math.max(scale, Math.abs(times[j] - at))
  const coefficients = new Array<number>(count).fill(0)
  let [before, now] = [new Float64Array(count), new Float64Array(count).fill(1)]
  // Of both polynomials: their derivatives of every order at the time that is asked for, which is 0 here.
  let [behind, here] = [new Float64Array(order + 1), new Float64Array(order + 1)]
  here[0] = 1
  let normBefore = 1
  for (let k = 0; k <= degree; k++) {
    let [norm, middle] = [0, 0]
    for (let j = 0; j < count; j++) {
      const square = (weights ? weights[j] : 1) * now[j] * now[j]
      norm += square
      middle += ((times[j] - at) / scale) * square
    }
    for (let j = 0; j < count; j++)
      coefficients[j] += ((weights ? weights[j] : 1) * now[j] * here[order]) / norm
    if (k === degree) break
    const [alpha, beta] = [middle / norm, k === 0 ? 0 : norm / normBefore]
    const next = new Float64Array(count)
    for (let j = 0; j < count; j++) next[j] = ((times[j] - at) / scale - alpha) * now[j] - beta * before[j]
    const there = new Float64Array(order + 1)
    for (let m = 0; m <= order; m++)
      there[m] = (m > 0 ? m * here[m - 1] : 0) - alpha * here[m] - beta * behind[m]
    ;[before, now, behind, here, normBefore] = [now, next, here, there, norm]
  }
  const unit = scale ** order
  for (let j = 0; j < count; j++) coefficients[j] /= unit
  return coefficients
}

/**
 * Weights by which nearer points count more: (1 − (|τ|/h)³)³, with h a step beyond the farthest point (Cleveland,
 * J. Am. Stat. Assoc. 74 (1979) 829).
 */
function tricube(times: number[], at: number, reach: number): number[] {
  const farthest = Math.max(...times.map((time) => Math.abs(time - at)))
  const beyond = (farthest * (reach + 1)) / reach
  return times.map((time) => (1 - (Math.abs(time - at) / beyond) ** 3) ** 3)
}

/** Returns the first of so many points around one of a run, as evenly on both sides as its ends allow. */
export function windowAround(k: number, wanted: number, count: number): { from: number; size: number } {
  const size = Math.min(wanted, count)
  return { from: Math.min(Math.max(0, k - ((size - 1) >> 1)), count - size), size }
}

/** A window of points around one that a derivative is asked for: the first of so many, and that one among all. */
interface Window {
  from: number
  k: number
  size: number
}

/** Returns true if a window has its points at the same times as another one, as seen from the one that is asked for, but for rounding. */
function liesAlike(times: number[], from: number, k: number, other: Window): boolean {
  const { size } = other
  const rounding = 4 * Number.EPSILON * Math.max(Math.abs(times[from]), Math.abs(times[from + size - 1]))
  const apart = times[k] - times[other.k]
  for (let j = 0; j < size; j++)
    if (Math.abs(times[from + j] - times[other.from + j] - apart) > rounding) return false
  return true
}

/** The windows of all points of a motion that have a derivative. */
interface Windows {
  rows: number[]
  /** The first point of each one's window, of all. */
  start: number[]
  /** What lies alike in a row has one shape: on even times nearly all windows do. */
  shape: number[]
  shapes: { times: number[]; at: number }[]
}

/** Kept by the points, for velocity and acceleration. */
const known = new WeakMap<DerivationPoints, Map<string, Windows>>()

function windowsOf(points: DerivationPoints, degree: number, reach: number): Windows {
  const all = known.get(points) ?? new Map<string, Windows>()
  known.set(points, all)
  const key = `${degree} ${reach}`
  const ready = all.get(key)
  if (ready) return ready
  const windows: Windows = { rows: [], start: [], shape: [], shapes: [] }
  for (const run of runsOf(points)) {
    const { first, times } = run
    if (times.length <= degree) continue
    let last: Window | null = null
    for (const k of ownPoints(run)) {
      const { from, size } = windowAround(k, Math.max(2 * reach + 1, degree + 1), times.length)
      if (!last || !liesAlike(times, from, k, last)) {
        last = { from, k, size }
        windows.shapes.push({ times: times.slice(from, from + size), at: times[k] })
      }
      windows.rows.push(first + k)
      windows.start.push(first + from)
      windows.shape.push(windows.shapes.length - 1)
    }
  }
  all.set(key, windows)
  return windows
}

/**
 * Derivatives as those of the least-squares polynomial through the point and its neighbours, `reach` on either side
 * (Savitzky and Golay, Anal. Chem. 36 (1964) 1627, here on any times). At an end of a run the same number of points
 * is taken from one side, so that the end has a derivative, with a larger error. A run with too few points for the
 * polynomial has none.
 */
export function localPolynomial(
  points: DerivationPoints,
  degree: number,
  order: 1 | 2,
  reach: number,
  weighted = false,
): Derived {
  const { rows, start, shape, shapes } = windowsOf(points, degree, reach)
  const rowOf = shapes.map(({ times, at }) =>
    derivativeAt(times, at, degree, order, weighted ? tricube(times, at, reach) : null),
  )
  return { rows, map: { start, coefficients: shape.map((which) => rowOf[which]) } }
}
