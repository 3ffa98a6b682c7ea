import { FitError } from './leastSquares.ts'
import { product, takeTimes } from './product.ts'

/** A column that is shorter than this share of itself, once others are taken out, depends on them. */
const DEPENDENT = 1e-12

/**
 * The triangle R that Householder's reflections make of the columns of a least-squares problem min ‖Aδ − r‖ (Golub and
 * Van Loan, Matrix Computations, 5.2), with Qᵀr: what damped steps, promises and errors are worked out from without
 * going through the points again. Made anew from other columns in the same room.
 */
export class Triangle {
  private readonly reflections: Reflections
  private readonly damped: Reflections
  /** Qᵀr, and the same below the columns that damp. */
  private readonly right: Float64Array
  private readonly dampedRight: Float64Array
  private p = 0
  /** Length of what of r lies along the columns, and sum of squares of what doesn't. */
  along = 0
  rest = 0

  /**
   * @param most columns at most
   * @param n how long they are
   * @param cut gives lists, `roomFor` numbers in all
   */
  constructor(most: number, n: number, cut = cutter(Triangle.roomFor(most, n))) {
    this.reflections = new Reflections(most, n, cut)
    this.damped = new Reflections(most, 2 * most, cut)
    this.right = cut(n)
    this.dampedRight = cut(2 * most)
  }

  /** How many numbers a triangle needs room for. */
  static roomFor(most: number, n: number): number {
    return (most + 1) * (n + 2 * most)
  }

  /** Whether all numbers of the columns are. */
  get isFinite(): boolean {
    const { columns } = this.reflections
    for (let k = 0; k < this.p; k++)
      for (let i = 0; i <= k; i++) if (!Number.isFinite(columns[k][i])) return false
    return true
  }

  /**
   * Makes the triangle of some columns and values, which are left as they are.
   *
   * @param which of the columns; all where left out
   */
  make(columns: readonly Float64Array[], values: Float64Array, which?: readonly number[]): this {
    const { reflections, right } = this
    const p = which ? which.length : columns.length
    this.p = p
    for (let k = 0; k < p; k++) reflections.columns[k].set(columns[which ? which[k] : k])
    reflections.make(p)
    right.set(values)
    reflections.turn(right)
    this.rest = product(right, right, p)
    let along = 0
    for (let i = 0; i < p; i++) along += right[i] * right[i]
    this.along = Math.sqrt(along)
    return this
  }

  /**
   * The step that min ‖Aδ − r‖² + ‖Dδ‖² is solved by.
   *
   * @param damping the diagonal of D; null: none
   * @param values other values than r, where those are meant; they are used up
   * @returns null where columns depend on each other and nothing damps them
   */
  solve(damping: Float64Array | null, values?: Float64Array): Float64Array | null {
    const { p, reflections, damped, dampedRight } = this
    if (values) reflections.turn(values)
    const right = values ?? this.right
    if (!damping) return reflections.backward(right)
    // R on top of D, turned into a triangle anew: a small problem, whatever the number of points.
    dampedRight.fill(0)
    for (let k = 0; k < p; k++) {
      const column = damped.columns[k].fill(0)
      for (let i = 0; i <= k; i++) column[i] = reflections.columns[k][i]
      column[p + k] = damping[k]
      dampedRight[k] = right[k]
    }
    damped.make(p)
    damped.turn(dampedRight)
    return damped.backward(dampedRight)
  }

  /** Length of a column without what the first ones of them make up for. */
  lengthBeyond(column: number, first: number): number {
    let length = 0
    for (let i = first; i <= column; i++) length += this.reflections.columns[column][i] ** 2
    return Math.sqrt(length)
  }

  /** By how much a step makes the sum of squares smaller, as far as the columns tell. */
  gainOf(step: Float64Array): number {
    const { columns } = this.reflections
    let gain = 0
    for (let i = 0; i < this.p; i++) {
      let moved = 0
      for (let k = i; k < this.p; k++) moved += columns[k][i] * step[k]
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
    const inverse = places.map((_, k) => {
      const unit = new Float64Array(this.p)
      unit[k] = 1
      const column = this.reflections.backward(unit)
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

/** Cuts lists from one piece of so many numbers: making each by itself takes longer than going through it. */
export function cutter(numbers: number): (length: number) => Float64Array {
  const piece = new Float64Array(numbers)
  let used = 0
  return (length) => {
    used += length
    return piece.subarray(used - length, used)
  }
}

/** Householder's reflections that make a triangle of columns. */
class Reflections {
  /** Where the columns are put; then R's down to the diagonal, and below it what the reflections' vectors have there. */
  readonly columns: Float64Array[]
  private count = 0
  /** Of each reflection the first element of its vector, and its factor. */
  private readonly first: Float64Array
  private readonly factor: Float64Array

  constructor(most: number, length: number, cut: (length: number) => Float64Array) {
    this.columns = Array.from({ length: most }, () => cut(length))
    this.first = new Float64Array(most)
    this.factor = new Float64Array(most)
  }

  /** Makes the triangle of the first columns. */
  make(count: number): void {
    this.count = count
    for (let k = 0; k < count; k++) {
      const own = this.columns[k]
      const norm = lengthFrom(own, k)
      const diagonal = own[k] > 0 ? -norm : norm
      this.first[k] = own[k] - diagonal
      this.factor[k] = norm > 0 ? -1 / (diagonal * this.first[k]) : 0
      own[k] = diagonal
      for (let j = k + 1; j < count; j++) this.reflect(k, this.columns[j])
    }
  }

  /** Does to a column of values what was done to the columns. */
  turn(values: Float64Array): void {
    for (let k = 0; k < this.count; k++) this.reflect(k, values)
  }

  /** Solves Rδ = b; null where the columns depend on each other. */
  backward(right: Float64Array): Float64Array | null {
    const { columns, count } = this
    const solution = new Float64Array(count)
    for (let k = count - 1; k >= 0; k--) {
      let sum = right[k]
      for (let j = k + 1; j < count; j++) sum -= columns[j][k] * solution[j]
      const diagonal = columns[k][k]
      let square = 0
      for (let i = 0; i <= k; i++) square += columns[k][i] * columns[k][i]
      if (!(Math.abs(diagonal) > DEPENDENT * Math.sqrt(square))) return null
      solution[k] = sum / diagonal
    }
    return solution
  }

  private reflect(k: number, other: Float64Array): void {
    const own = this.columns[k]
    const first = this.first[k]
    const by = this.factor[k] * (first * other[k] + product(own, other, k + 1))
    other[k] -= by * first
    takeTimes(other, own, by, k + 1)
  }
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
