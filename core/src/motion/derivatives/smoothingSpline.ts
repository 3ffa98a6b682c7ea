import { type DerivationPoints, type Derived, ownPoints, type Run, runsOf } from './derivationPoints.ts'
import { derivativeAt } from './localPolynomial.ts'
import type { DerivativeMethod } from './method.ts'

/** Fewest points that a spline is laid through. */
const FEWEST = 6
/** Decimal logarithms of the smoothing that are tried, with steps between points as the unit of time, and how finely. */
const SMOOTHING = { least: -4, most: 9, step: 1, fine: 0.05 }
/** Parts of a row that are smaller than this share of its largest are left out, once so many in a row are. */
const NEGLIGIBLE = { share: 1e-9, many: 6 }
/** How far beside the diagonal the equations reach. */
const BAND = 3

/** Points and weights of Gauss's rule on −1 … 1 that is exact to degree 5. */
const GAUSS = [
  [-Math.sqrt(0.6), 5 / 9],
  [0, 8 / 9],
  [Math.sqrt(0.6), 5 / 9],
] as const

/** Unit lower triangle, three below the diagonal, and diagonal of banded equations. */
interface Factors {
  lower: Float64Array[]
  diagonal: Float64Array
}

/**
 * The natural quintic spline f on some times that makes Σ(yᵢ − f(tᵢ))² + λ ∫f‴² least: smooth in acceleration, and
 * exact for uniform acceleration (Reinsch, Numer. Math. 10 (1967) 177; of this degree for motions: Woltring, Adv.
 * Eng. Software 8 (1986) 104). With f‴ = Σ γⱼMⱼ on quadratic B-splines of unit area, R their inner products, and
 * Qᵀ the third divided differences times 6,
 *
 *     (R + λQᵀQ) γ = Qᵀy,   f(tᵢ) = yᵢ − λ(Qγ)ᵢ
 */
class Spline {
  readonly count: number
  /** Times, with the mean step as their unit. */
  private readonly u: number[]
  private readonly unit: number
  /** Column j of Q: four coefficients, of the points from j on. */
  private readonly differences: number[][]
  /** Inner products of each B-spline with itself and the two after it. */
  private readonly inner: number[][]

  constructor(times: number[]) {
    const n = times.length
    this.unit = (times[n - 1] - times[0]) / (n - 1)
    this.u = times.map((time) => (time - times[0]) / this.unit)
    this.count = n - 3
    this.differences = Array.from({ length: this.count }, (_, j) =>
      // Six times the third divided difference is the third derivative of the cubic through four points.
      derivativeAt(this.u.slice(j, j + 4), this.u[j], 3, 3),
    )
    this.inner = Array.from({ length: this.count }, (_, j) =>
      Array.from({ length: BAND }, (_, away) => {
        if (j + away >= this.count) return 0
        return this.integral(j + away, j + 3, (s) => this.basis(j, s) * this.basis(j + away, s))
      }),
    )
  }

  /** Integral of a piecewise polynomial up to degree 5 over the steps between two points. */
  private integral(from: number, to: number, value: (s: number) => number): number {
    let sum = 0
    for (let i = from; i < to; i++) {
      const half = (this.u[i + 1] - this.u[i]) / 2
      for (const [at, weight] of GAUSS) sum += weight * half * value(this.u[i] + half * (1 + at))
    }
    return sum
  }

  /** Returns the quadratic B-spline of unit area on the points j to j + 3. */
  private basis(j: number, s: number): number {
    const { u } = this
    const [a, b, c, d] = [u[j], u[j + 1], u[j + 2], u[j + 3]]
    if (s <= a || s >= d) return 0
    const whole = 3 / (d - a)
    if (s < b) return (whole * (s - a) ** 2) / ((c - a) * (b - a))
    if (s < c) return (whole * (((s - a) * (c - s)) / (c - a) + ((d - s) * (s - b)) / (d - b))) / (c - b)
    return (whole * (d - s) ** 2) / ((d - b) * (d - c))
  }

  /** Returns the equations' factors: unit lower triangle (three below the diagonal) and diagonal, by Cholesky without roots. */
  factors(lambda: number): Factors {
    const n = this.count
    const lower = Array.from({ length: n }, () => new Float64Array(BAND + 1))
    const diagonal = new Float64Array(n)
    for (let i = 0; i < n; i++)
      for (let j = Math.max(0, i - BAND); j <= i; j++) {
        const away = i - j
        let sum = away < BAND ? this.inner[j][away] : 0
        for (let k = away; k < 4; k++) sum += lambda * this.differences[j][k] * this.differences[i][k - away]
        for (let k = Math.max(0, i - BAND); k < j; k++) sum -= lower[i][i - k] * lower[j][j - k] * diagonal[k]
        if (away === 0) diagonal[i] = sum
        else lower[i][away] = sum / diagonal[j]
      }
    return { lower, diagonal }
  }

  /** Solves the equations for a right side. */
  solved({ lower, diagonal }: Factors, right: Float64Array): Float64Array {
    const n = this.count
    const z = right.slice()
    for (let i = 0; i < n; i++)
      for (let away = 1; away <= Math.min(BAND, i); away++) z[i] -= lower[i][away] * z[i - away]
    for (let i = n - 1; i >= 0; i--) {
      z[i] /= diagonal[i]
      for (let away = 1; away <= Math.min(BAND, n - 1 - i); away++)
        z[i] -= lower[i + away][away] * z[i + away]
    }
    return z
  }

  /**
   * What the spline leaves of each value, in how many of them it leaves freedom, and what leaving out each in turn and
   * foretelling it from the others would be off by, as a mean square (ordinary cross-validation; Craven and Wahba,
   * Numer. Math. 31 (1979) 377), all in one pass by the inverse's band (Hutchinson and de Hoog, Numer. Math. 47
   * (1985) 99).
   */
  fitted(
    lambda: number,
    values: ArrayLike<number>,
  ): { residuals: Float64Array; freedom: number; foretold: number } {
    const n = this.count
    const { lower, diagonal } = this.factors(lambda)
    const gamma = this.solved({ lower, diagonal }, this.third(values))
    // inverse[i][k] is the inverse at (i, i + k).
    const inverse = Array.from({ length: n }, () => new Float64Array(BAND + 1))
    const at = (i: number, j: number) => (i <= j ? inverse[i][j - i] : inverse[j][i - j])
    for (let i = n - 1; i >= 0; i--) {
      const below = Math.min(BAND, n - 1 - i)
      for (let k = below; k >= 0; k--) {
        let sum = k === 0 ? 1 / diagonal[i] : 0
        for (let m = 1; m <= below; m++) sum -= lower[i + m][m] * at(i + m, i + k)
        inverse[i][k] = sum
      }
    }
    const residuals = new Float64Array(n + 3)
    let [freedom, foretold] = [0, 0]
    for (let i = 0; i < n + 3; i++) {
      let [residual, share] = [0, 0]
      for (let j = Math.max(0, i - 3); j <= Math.min(n - 1, i); j++) {
        residual += this.differences[j][i - j] * gamma[j]
        for (let k = Math.max(0, i - 3); k <= Math.min(n - 1, i); k++)
          share += this.differences[j][i - j] * this.differences[k][i - k] * at(j, k)
      }
      residuals[i] = lambda * residual
      freedom += lambda * share
      foretold += (residual / share) ** 2 / (n + 3)
    }
    return { residuals, freedom, foretold }
  }

  /** Third differences of values: Qᵀy. */
  private third(values: ArrayLike<number>): Float64Array {
    return Float64Array.from(this.differences, (row, j) =>
      row.reduce((sum, coefficient, k) => sum + coefficient * values[j + k], 0),
    )
  }

  /**
   * Returns how the derivative at a point comes from the values: the first point that counts, and a coefficient for each
   * from there on. The three-point formula on the spline's own values, and what f‴ adds to it (Peano's kernel), is
   * exact; what lies far away has next to no influence and is left out.
   */
  row(i: number, order: 1 | 2, lambda: number, factors: Factors): { start: number; coefficients: number[] } {
    const { u, count } = this
    const a = Math.min(Math.max(0, i - 1), u.length - 3)
    const formula = derivativeAt(u.slice(a, a + 3), u[i], 2, order)
    const kernel = (s: number) => {
      const ahead = Math.max(0, u[i] - s)
      let value = order === 1 ? 2 * ahead : u[i] > s ? 2 : 0
      for (let k = 0; k < 3; k++) value -= formula[k] * Math.max(0, u[a + k] - s) ** 2
      return value / 2
    }
    const right = new Float64Array(count)
    const [low, high] = [Math.max(0, a - 3), Math.min(count - 1, a + 2)]
    for (let j = low; j <= high; j++) {
      if (j < a + 2 && j + 3 > a)
        right[j] = this.integral(Math.max(a, j), Math.min(a + 2, j + 3), (s) => kernel(s) * this.basis(j, s))
      for (let k = 0; k < 3; k++) {
        const at = a + k - j
        if (at >= 0 && at < 4) right[j] -= lambda * this.differences[j][at] * formula[k]
      }
    }
    const { values, from, to } = this.decaying(factors, right, low, high)
    const start = Math.min(a, from)
    const coefficients = new Array<number>(Math.max(a + 2, to + 3) - start + 1).fill(0)
    for (let k = 0; k < 3; k++) coefficients[a + k - start] += formula[k]
    for (let j = from; j <= to; j++)
      for (let k = 0; k < 4; k++) coefficients[j + k - start] += this.differences[j][k] * values[j]
    const unit = this.unit ** order
    return { start, coefficients: coefficients.map((one) => one / unit) }
  }

  /** As `solved`, for a right side that is 0 but between two places: only as far as the solution counts for anything. */
  private decaying(
    { lower, diagonal }: Factors,
    z: Float64Array,
    low: number,
    high: number,
  ): { values: Float64Array; from: number; to: number } {
    let [largest, quiet, to] = [0, 0, low]
    for (let i = low; i < this.count && (i <= high || quiet < NEGLIGIBLE.many); i++, to = i - 1) {
      for (let away = 1; away <= Math.min(BAND, i - low); away++) z[i] -= lower[i][away] * z[i - away]
      largest = Math.max(largest, Math.abs(z[i]))
      quiet = Math.abs(z[i]) < NEGLIGIBLE.share * largest ? quiet + 1 : 0
    }
    let from = to
    quiet = 0
    largest = 0
    for (let i = to; i >= 0 && (i >= low || quiet < NEGLIGIBLE.many); i--) {
      z[i] /= diagonal[i]
      for (let away = 1; away <= Math.min(BAND, to - i); away++) z[i] -= lower[i + away][away] * z[i + away]
      largest = Math.max(largest, Math.abs(z[i]))
      quiet = Math.abs(z[i]) < NEGLIGIBLE.share * largest ? quiet + 1 : 0
      from = i
    }
    return { values: z, from, to }
  }
}

/** Of values that were asked for before: the smoothing of each run, by its times. */
const known = new WeakMap<object, Map<string, number>>()

/** As `bestSmoothing`; velocity and acceleration of the same values ask once. */
function smoothingOf(
  { first, times }: Run,
  spline: Spline,
  own: number[],
  values: ArrayLike<number>,
): number {
  const runs = known.get(values) ?? new Map<string, number>()
  known.set(values, runs)
  const key = `${first} ${times.length} ${times[0]} ${times.at(-1)}`
  const lambda = runs.get(key) ?? bestSmoothing(spline, own)
  runs.set(key, lambda)
  return lambda
}

/** Returns the smoothing by which the points foretell each other best. */
function bestSmoothing(spline: Spline, values: ArrayLike<number>): number {
  const score = (exponent: number) => spline.fitted(10 ** exponent, values).foretold
  let best = { exponent: SMOOTHING.most, score: Number.POSITIVE_INFINITY }
  for (let exponent = SMOOTHING.least; exponent <= SMOOTHING.most; exponent += SMOOTHING.step) {
    const one = { exponent, score: score(exponent) }
    if (one.score <= best.score) best = one
  }
  // Golden section between its neighbours.
  const golden = (Math.sqrt(5) - 1) / 2
  let [low, high] = [best.exponent - SMOOTHING.step, best.exponent + SMOOTHING.step]
  while (high - low > SMOOTHING.fine) {
    const [left, right] = [high - golden * (high - low), low + golden * (high - low)]
    if (score(left) < score(right)) high = right
    else low = left
  }
  return 10 ** ((low + high) / 2)
}

const squared = (values: Float64Array) => values.reduce((sum, value) => sum + value * value, 0)

/**
 * Returns by how much the errors of a spline's derivatives are more than what the points' scatter makes. What smoothing takes
 * away is told by what it leaves of the points, smoothed once more (Tukey's twicing); its mean square over all points is
 * added to the variance, so that intervals hold the truth as often as they say on the average over points (Nychka,
 * J. Am. Stat. Assoc. 83 (1988) 1134).
 */
function widening(
  rows: { start: number; coefficients: number[] }[],
  { residuals, freedom }: { residuals: Float64Array; freedom: number },
): number {
  const variance = squared(residuals) / freedom
  let mean = 0
  for (const { start, coefficients } of rows) {
    let [taken, scatter] = [0, 0]
    for (let k = 0; k < coefficients.length; k++) {
      taken += coefficients[k] * residuals[start + k]
      scatter += coefficients[k] ** 2
    }
    mean += taken ** 2 / scatter / rows.length
  }
  return variance > 0 ? Math.sqrt(1 + mean / variance) : 1
}

/** Derivatives of a smoothing spline, its smoothing chosen by cross-validation; exact for uniform acceleration. */
export const smoothingSpline: DerivativeMethod = {
  id: 'spline',
  exact: 2,
  readsValues: true,
  derive(points: DerivationPoints, order, _reach, values) {
    const derived = { rows: [], map: { start: [], coefficients: [] }, widened: [] } as Required<
      Omit<Derived, 'scatter'>
    >
    let [left, freedom] = [0, 0]
    for (const run of runsOf(points)) {
      const { first, times } = run
      if (times.length < FEWEST) continue
      const spline = new Spline(times)
      const own = Array.from(times, (_, k) => values[first + k])
      const lambda = smoothingOf(run, spline, own, values)
      const factors = spline.factors(lambda)
      const points = ownPoints(run)
      const rows = points.map((k) => spline.row(k, order, lambda, factors))
      const fitted = spline.fitted(lambda, own)
      const widened = widening(rows, fitted)
      left += squared(fitted.residuals)
      freedom += fitted.freedom
      rows.forEach(({ start, coefficients }, i) => {
        derived.rows.push(first + points[i])
        derived.map.start.push(first + start)
        derived.map.coefficients.push(coefficients)
        derived.widened.push(widened)
      })
    }
    return { ...derived, scatter: { variance: left / freedom, freedom } }
  },
}
