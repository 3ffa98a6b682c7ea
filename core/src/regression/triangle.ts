import { FitError } from './leastSquares.ts'
import { product, squares, takeTimes } from './product.ts'

/** A column that is shorter than this share of itself, once others are taken out, depends on them. */
const DEPENDENT = 1e-12

/**
 * The triangle R that Householder's reflections make of the columns of a least-squares problem min ‖Aδ − r‖ (Golub and
 * Van Loan, Matrix Computations, 5.2), with Qᵀr: what damped steps, promises and errors are worked out from without
 * going through the points again.
 */
export class Triangle {
  /** R by columns; element [k][i] is in row i. */
  private readonly r: Float64Array[]
  private readonly right: Float64Array
  /** What Qᵀ does to a column of values. */
  private readonly turn: (values: Float64Array) => void
  /** Length of what of r lies along the columns, and sum of squares of what doesn't. */
  readonly along: number
  readonly rest: number

  /** Whether all numbers of the columns are. */
  get isFinite(): boolean {
    return this.r.every((column) => column.every(Number.isFinite))
  }

  /** @param columns and values are left as they are */
  constructor(columns: readonly Float64Array[], values: Float64Array) {
    const p = columns.length
    const { r, turn } = triangular(columns.map((column) => column.slice()))
    this.r = r
    this.turn = turn
    const b = values.slice()
    turn(b)
    this.right = b.slice(0, p)
    this.along = Math.sqrt(squares(this.right))
    this.rest = squares(b.subarray(p))
  }

  /**
   * The step that min ‖Aδ − r‖² + ‖Dδ‖² is solved by.
   *
   * @param damping the diagonal of D; null: none
   * @param values other values than r, where those are meant
   * @returns null where columns depend on each other and nothing damps them
   */
  solve(damping: Float64Array | null, values?: Float64Array): Float64Array | null {
    const p = this.r.length
    let { right } = this
    if (values) {
      const turned = values.slice()
      this.turn(turned)
      right = turned.subarray(0, p)
    }
    if (!damping) return backward(this.r, right)
    // R on top of D, turned into a triangle anew: a small problem, whatever the number of points.
    const { r, turn } = triangular(
      this.r.map((column, k) => {
        const long = new Float64Array(2 * p)
        long.set(column)
        long[p + k] = damping[k]
        return long
      }),
    )
    const b = new Float64Array(2 * p)
    b.set(right)
    turn(b)
    return backward(r, b)
  }

  /** Length of a column without what the first ones of them make up for. */
  lengthBeyond(column: number, first: number): number {
    let length = 0
    for (let i = first; i <= column; i++) length += this.r[column][i] ** 2
    return Math.sqrt(length)
  }

  /** By how much a step makes the sum of squares smaller, as far as the columns tell. */
  gainOf(step: Float64Array): number {
    const p = this.r.length
    let gain = 0
    for (let i = 0; i < p; i++) {
      let moved = 0
      for (let k = i; k < p; k++) moved += this.r[k][i] * step[k]
      gain += moved * (2 * this.right[i] - moved)
    }
    return gain
  }

  /**
   * (AᵀA)⁻¹ = R⁻¹R⁻ᵀ.
   *
   * @param places where the columns belong among all `count` of them; what belongs to none is 0
   * @throws FitError where columns depend on each other
   */
  cofactors(places: readonly number[], count: number): Float64Array[] {
    const inverse = this.r.map((_, k) => {
      const unit = new Float64Array(this.r.length)
      unit[k] = 1
      const column = backward(this.r, unit)
      if (!column) throw new FitError('The points do not tell the parameters apart.')
      return column
    })
    const cofactors = Array.from({ length: count }, () => new Float64Array(count))
    places.forEach((a, i) => {
      places.forEach((b, j) => {
        for (const column of inverse) cofactors[a][b] += column[i] * column[j]
      })
    })
    return cofactors
  }
}

/** Makes a triangle of columns, which are used up; gives what that does to a column of values. */
function triangular(work: Float64Array[]): { r: Float64Array[]; turn: (values: Float64Array) => void } {
  const p = work.length
  const heads: ((other: Float64Array) => void)[] = []
  const r = work.map((own, k) => {
    const { diagonal, turn } = reflect(own, k)
    for (let j = k + 1; j < p; j++) turn(work[j])
    heads.push(turn)
    const column = new Float64Array(p)
    column.set(own.subarray(0, k))
    column[k] = diagonal
    return column
  })
  return {
    r,
    turn: (values) => {
      for (const turn of heads) turn(values)
    },
  }
}

/** Solves Rδ = b for a triangle by its columns; null where they depend on each other. */
function backward(triangle: Float64Array[], right: ArrayLike<number>): Float64Array | null {
  const p = triangle.length
  const solution = new Float64Array(p)
  for (let k = p - 1; k >= 0; k--) {
    let sum = right[k]
    for (let j = k + 1; j < p; j++) sum -= triangle[j][k] * solution[j]
    const diagonal = triangle[k][k]
    if (!(Math.abs(diagonal) > DEPENDENT * Math.sqrt(squares(triangle[k])))) return null
    solution[k] = sum / diagonal
  }
  return solution
}

/** Squares between these are neither lost nor too large. */
const SAFE = { least: 1e-200, most: 1e200 }

/** Length of a column from row k on; of very small and very large ones, too. */
function lengthFrom(column: Float64Array, k: number): number {
  const square = product(column, column, k)
  if (square > SAFE.least && square < SAFE.most) return Math.sqrt(square)
  let largest = 0
  for (let i = k; i < column.length; i++) largest = Math.max(largest, Math.abs(column[i]))
  if (largest === 0) return 0
  let sum = 0
  for (let i = k; i < column.length; i++) sum += (column[i] / largest) ** 2
  return largest * Math.sqrt(sum)
}

/** Turns what of a column lies from row k on into its first element; gives that, and does the same to other columns. */
function reflect(column: Float64Array, k: number): { diagonal: number; turn: (other: Float64Array) => void } {
  const norm = lengthFrom(column, k)
  const diagonal = column[k] > 0 ? -norm : norm
  const first = column[k] - diagonal
  const beta = norm > 0 ? -1 / (diagonal * first) : 0
  return {
    diagonal,
    turn: (other) => {
      const dot = beta * (first * other[k] + product(column, other, k + 1))
      other[k] -= dot * first
      takeTimes(other, column, dot, k + 1)
    },
  }
}
