import { FitError } from './fitError.ts'
import { dotProduct, subtractScaled } from './vectorMath.ts'

/** A column is linearly dependent if its part orthogonal to the others is shorter than this fraction of it. */
const DEPENDENT = 1e-12

/**
 * QR decomposition of a least-squares problem min ‖Aδ − r‖ by Householder reflections (Golub and Van Loan, Matrix
 * Computations, 5.2), with Qᵀr: damped steps, predicted reductions and cofactors follow from it without another pass over
 * the points. It can be factorised again with other columns without allocating.
 */
export class QrFactor {
  private readonly reflections: HouseholderReflections
  private readonly damped: HouseholderReflections
  /** Qᵀr, and the same for the damped problem. */
  private readonly right: Float64Array
  private readonly dampedRight: Float64Array
  /** Number of columns. */
  private p = 0
  /** Norm of the projection of r onto the column space. */
  projectedNorm = 0
  /** Sum of squares of the part of r orthogonal to the column space. */
  residualSquares = 0

  /**
   * @param most largest number of columns
   * @param n length of the columns
   * @param allocate returns arrays of a given length, `lengthNeeded` numbers in total
   */
  constructor(most: number, n: number, allocate = arrayAllocator(QrFactor.lengthNeeded(most, n))) {
    this.reflections = new HouseholderReflections(most, n, allocate)
    this.damped = new HouseholderReflections(most, 2 * most, allocate)
    this.right = allocate(n)
    this.dampedRight = allocate(2 * most)
  }

  /** Returns how many numbers a factorisation needs. */
  static lengthNeeded(most: number, n: number): number {
    return (most + 1) * (n + 2 * most)
  }

  /** Returns true if all elements of R are finite. */
  get isFinite(): boolean {
    const { columns } = this.reflections
    for (let k = 0; k < this.p; k++)
      for (let i = 0; i <= k; i++) if (!Number.isFinite(columns[k][i])) return false
    return true
  }

  /**
   * Factorises columns and transforms values; both are copied.
   *
   * @param columns arrays of length n
   * @param selected indices of the columns to use, in this order; all where left out
   */
  factorise(columns: readonly Float64Array[], values: Float64Array, selected?: readonly number[]): this {
    const { reflections, right } = this
    const p = selected ? selected.length : columns.length
    this.p = p
    for (let k = 0; k < p; k++) reflections.columns[k].set(columns[selected ? selected[k] : k])
    reflections.factorise(p)
    right.set(values)
    reflections.applyTo(right)
    this.residualSquares = dotProduct(right, right, p)
    let along = 0
    for (let i = 0; i < p; i++) along += right[i] * right[i]
    this.projectedNorm = Math.sqrt(along)
    return this
  }

  /**
   * Returns the δ that minimises ‖Aδ − r‖² + ‖Dδ‖².
   *
   * @param damping the diagonal of D; null: none
   * @param values used in place of r; overwritten
   * @returns null if the columns are linearly dependent and undamped
   */
  solve(damping: Float64Array | null, values?: Float64Array): Float64Array | null {
    const { p, reflections, damped, dampedRight } = this
    if (values) reflections.applyTo(values)
    const right = values ?? this.right
    if (!damping) return reflections.backSubstitute(right)
    // QR of R stacked on D: 2p rows, whatever the number of points.
    dampedRight.fill(0)
    for (let k = 0; k < p; k++) {
      const column = damped.columns[k].fill(0)
      for (let i = 0; i <= k; i++) column[i] = reflections.columns[k][i]
      column[p + k] = damping[k]
      dampedRight[k] = right[k]
    }
    damped.factorise(p)
    damped.applyTo(dampedRight)
    return damped.backSubstitute(dampedRight)
  }

  /** Returns the norm of a column without its projection onto the first `first` columns. */
  columnNormFrom(column: number, first: number): number {
    let length = 0
    for (let i = first; i <= column; i++) length += this.reflections.columns[column][i] ** 2
    return Math.sqrt(length)
  }

  /** Returns the reduction of the sum of squares that the linear model predicts for a step. */
  predictedReduction(step: Float64Array): number {
    const { columns } = this.reflections
    let reduction = 0
    for (let i = 0; i < this.p; i++) {
      let change = 0
      for (let k = i; k < this.p; k++) change += columns[k][i] * step[k]
      reduction += change * (2 * this.right[i] - change)
    }
    return reduction
  }

  /**
   * Returns (AᵀA)⁻¹ = R⁻¹R⁻ᵀ as part of a `count` × `count` matrix; rows and columns that are not in `indices` are 0.
   *
   * @param indices row and column of each factorised column in the result
   * @throws FitError if the columns are linearly dependent
   */
  cofactors(indices: readonly number[], count: number): Float64Array[] {
    const inverse = indices.map((_, k) => {
      const unit = new Float64Array(this.p)
      unit[k] = 1
      const column = this.reflections.backSubstitute(unit)
      if (!column) throw new FitError({ code: 'parameters-indistinguishable' })
      return column
    })
    const cofactors = Array.from({ length: count }, () => new Float64Array(count))
    indices.forEach((a, i) => {
      indices.forEach((b, j) => {
        for (const column of inverse) cofactors[a][b] += column[i] * column[j]
      })
    })
    return cofactors
  }
}

/** Returns a function that allocates arrays from one buffer of so many numbers: that is faster than allocating each by itself. */
export function arrayAllocator(numbers: number): (length: number) => Float64Array {
  const buffer = new Float64Array(numbers)
  let used = 0
  return (length) => {
    used += length
    return buffer.subarray(used - length, used)
  }
}

/** Householder reflections that bring columns to upper triangular form. */
class HouseholderReflections {
  /** The columns to factorise; afterwards R down to the diagonal, and the reflection vectors below it. */
  readonly columns: Float64Array[]
  private count = 0
  /** First element of each reflection vector, and its factor. */
  private readonly first: Float64Array
  private readonly factor: Float64Array

  constructor(most: number, length: number, allocate: (length: number) => Float64Array) {
    this.columns = Array.from({ length: most }, () => allocate(length))
    this.first = new Float64Array(most)
    this.factor = new Float64Array(most)
  }

  /** Factorises the first `count` columns in place. */
  factorise(count: number): void {
    this.count = count
    for (let k = 0; k < count; k++) {
      const own = this.columns[k]
      const norm = normFrom(own, k)
      const diagonal = own[k] > 0 ? -norm : norm
      this.first[k] = own[k] - diagonal
      this.factor[k] = norm > 0 ? -1 / (diagonal * this.first[k]) : 0
      own[k] = diagonal
      for (let j = k + 1; j < count; j++) this.reflect(k, this.columns[j])
    }
  }

  /** Applies Qᵀ to values in place. */
  applyTo(values: Float64Array): void {
    for (let k = 0; k < this.count; k++) this.reflect(k, values)
  }

  /** Solves Rδ = b; null if the columns are linearly dependent. */
  backSubstitute(right: Float64Array): Float64Array | null {
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
    const by = this.factor[k] * (first * other[k] + dotProduct(own, other, k + 1))
    other[k] -= by * first
    subtractScaled(other, own, by, k + 1)
  }
}

/** Squared norms between these neither underflow nor overflow. */
const SAFE = { least: 1e-200, most: 1e200 }

/** Returns the norm of a column from row k on, without underflow or overflow. */
function normFrom(column: Float64Array, k: number): number {
  const square = dotProduct(column, column, k)
  if (square > SAFE.least && square < SAFE.most) return Math.sqrt(square)
  let largest = 0
  for (let i = k; i < column.length; i++) largest = Math.max(largest, Math.abs(column[i]))
  if (largest === 0) return 0
  let sum = 0
  for (let i = k; i < column.length; i++) sum += (column[i] / largest) ** 2
  return largest * Math.sqrt(sum)
}
