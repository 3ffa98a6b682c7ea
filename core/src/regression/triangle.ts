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
  private readonly reflections: Reflections
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
    this.reflections = new Reflections(columns.map((column) => column.slice()))
    this.r = this.reflections.triangle
    const b = values.slice()
    this.reflections.turn(b)
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
      this.reflections.turn(turned)
      right = turned.subarray(0, p)
    }
    if (!damping) return backward(this.r, right)
    // R on top of D, turned into a triangle anew: a small problem, whatever the number of points.
    const damped = new Reflections(
      this.r.map((column, k) => {
        const long = new Float64Array(2 * p)
        long.set(column)
        long[p + k] = damping[k]
        return long
      }),
    )
    const b = new Float64Array(2 * p)
    b.set(right)
    damped.turn(b)
    return backward(damped.triangle, b)
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

/** Householder's reflections that make a triangle of columns, which are used up. */
class Reflections {
  /** By columns; element [k][i] is in row i. */
  readonly triangle: Float64Array[] = []
  /** Of each reflection the first element of its vector, whose others are left in the column, and its factor. */
  private readonly first: Float64Array
  private readonly factor: Float64Array

  constructor(private readonly columns: readonly Float64Array[]) {
    const p = columns.length
    this.first = new Float64Array(p)
    this.factor = new Float64Array(p)
    for (let k = 0; k < p; k++) {
      const own = columns[k]
      const norm = lengthFrom(own, k)
      const diagonal = own[k] > 0 ? -norm : norm
      this.first[k] = own[k] - diagonal
      this.factor[k] = norm > 0 ? -1 / (diagonal * this.first[k]) : 0
      for (let j = k + 1; j < p; j++) this.reflect(k, columns[j])
      const column = new Float64Array(p)
      for (let i = 0; i < k; i++) column[i] = own[i]
      column[k] = diagonal
      this.triangle.push(column)
    }
  }

  /** Does to a column of values what was done to the columns. */
  turn(values: Float64Array): void {
    for (let k = 0; k < this.columns.length; k++) this.reflect(k, values)
  }

  private reflect(k: number, other: Float64Array): void {
    const own = this.columns[k]
    const first = this.first[k]
    const by = this.factor[k] * (first * other[k] + product(own, other, k + 1))
    other[k] -= by * first
    takeTimes(other, own, by, k + 1)
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
