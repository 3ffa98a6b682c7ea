/**
 * Correlation of the errors of followed marks: a template that is half a pixel off in one frame is so in the next. It is
 * told by the marks themselves, by restricted maximum likelihood (Patterson and Thompson, Biometrika 58 (1971) 545) of an
 * autoregressive process about a polynomial in each of many short windows.
 */

/** Marks in a window, and the degree of the polynomial that the motion follows in it. */
const WINDOW = { marks: 24, degree: 7 }
/** Windows that tell it at most, spread over all. */
const MOST_WINDOWS = 200
/** Correlations from one frame to the next that are weighed against each other. */
const GRID = Array.from({ length: 20 }, (_, i) => 0.05 * i)
/**
 * Prior of the correlation of followed marks: mean and standard deviation. On 60 rendered clips the errors of
 * neighbouring marks correlate by 0.3 to 0.8.
 */
export const TYPICAL_CORRELATION = { mean: 0.6, deviation: 0.2 }

/**
 * Slow drift of a followed point on its body, in pixels along each direction over the points of a fit: standard deviations of the
 * coefficients of the Legendre polynomials P₁ and P₂. It bends the path as a motion does, so that no residual shows it. Of 17 rendered
 * clips of what does not swing, half had less than two thirds of this.
 */
export const FOLLOWING_DRIFT = { along: 0.2, bend: 0.12 }

/** A window of marks: frames and both coordinates, in pixels, one after the other. */
interface Marks {
  frames: ArrayLike<number>
  x: ArrayLike<number>
  y: ArrayLike<number>
}

/**
 * Correlation of the errors of marks in neighbouring frames, 0 … 0.95; of marks `d` frames apart it is that to the power
 * of `d`.
 *
 * @param courses first mark and number of marks of the stretches in which the motion is smooth
 */
export function followedCorrelation(
  marks: Marks,
  courses: readonly { first: number; count: number }[],
): number {
  const starts = courses.flatMap(({ first, count }) =>
    Array.from({ length: Math.floor(count / WINDOW.marks) }, (_, i) => first + i * WINDOW.marks),
  )
  const stride = Math.max(1, Math.ceil(starts.length / MOST_WINDOWS))
  const windows = starts.filter((_, i) => i % stride === 0)
  const logarithms = GRID.map(
    (correlation) =>
      windows.reduce((sum, start) => sum + windowLikelihood(marks, start, correlation), 0) -
      0.5 * ((correlation - TYPICAL_CORRELATION.mean) / TYPICAL_CORRELATION.deviation) ** 2,
  )
  const most = Math.max(...logarithms)
  const weights = logarithms.map((one) => Math.exp(one - most))
  const all = weights.reduce((sum, weight) => sum + weight, 0)
  return GRID.reduce((sum, correlation, i) => sum + weights[i] * correlation, 0) / all
}

/** Logarithm of the restricted likelihood of a correlation in one window, whose error is its own. */
function windowLikelihood({ frames, x, y }: Marks, start: number, correlation: number): number {
  const { marks: count, degree } = WINDOW
  const middle = (frames[start] + frames[start + count - 1]) / 2
  const half = (frames[start + count - 1] - frames[start]) / 2
  const columns = Array.from({ length: degree + 3 }, (_, k) => {
    const column = new Float64Array(count)
    for (let i = 0; i < count; i++) {
      const u = (frames[start + i] - middle) / half
      column[i] = k <= degree ? u ** k : k === degree + 1 ? x[start + i] - x[start] : y[start + i] - y[start]
    }
    return column
  })
  let logarithm = 0
  for (let i = count - 1; i > 0; i--) {
    const shared = correlation ** (frames[start + i] - frames[start + i - 1])
    const own = Math.sqrt(1 - shared * shared)
    logarithm += 2 * Math.log(own)
    for (const column of columns) column[i] = (column[i] - shared * column[i - 1]) / own
  }
  // Modified Gram and Schmidt: what the polynomial leaves of both coordinates.
  for (let k = 0; k <= degree; k++) {
    const unit = columns[k]
    const square = unit.reduce((sum, value) => sum + value * value, 0)
    logarithm += Math.log(square)
    for (const column of columns.slice(k + 1)) {
      let along = 0
      for (let i = 0; i < count; i++) along += unit[i] * column[i]
      for (let i = 0; i < count; i++) column[i] -= (along / square) * unit[i]
    }
  }
  const rest = columns
    .slice(-2)
    .reduce((sum, column) => sum + column.reduce((all, value) => all + value * value, 0), 0)
  const freedom = 2 * (count - degree - 1)
  return -0.5 * (freedom * Math.log(Math.max(rest, 1e-12)) + 2 * logarithm)
}

/**
 * Variance of the difference of some order of equally spaced marks whose errors correlate, over what it were if they did
 * not.
 *
 * @param correlation of the errors of neighbouring marks
 */
export function differenceVariance(order: number, correlation: number): number {
  const coefficients = [1]
  for (let k = 0; k < order; k++) coefficients.push((-coefficients[k] * (order - k)) / (k + 1))
  let [variance, independent] = [0, 0]
  for (let i = 0; i <= order; i++) {
    independent += coefficients[i] ** 2
    for (let j = 0; j <= order; j++)
      variance += coefficients[i] * coefficients[j] * correlation ** Math.abs(i - j)
  }
  return variance / independent
}

/** Shares smaller than this of an error that a mark has in common with one long before are left out. */
const LEAST_SHARE = 0.01

/**
 * Shares of independent errors in the error of a mark: of its own, of that of the mark before it, and so on. Their squares
 * add to 1 (autoregressive process of first order: Box and Jenkins, Time Series Analysis, 1970).
 *
 * @param frames of the marks in order
 * @param correlation of the errors of marks in neighbouring frames
 */
export function errorShares(frames: ArrayLike<number>, mark: number, correlation: number): number[] {
  const shares: number[] = []
  let left = 1
  for (let at = mark; ; at--) {
    const shared = at > 0 ? correlation ** (frames[at] - frames[at - 1]) : 0
    if (left * shared < LEAST_SHARE) return [...shares, left]
    shares.push(left * Math.sqrt(1 - shared * shared))
    left *= shared
  }
}
