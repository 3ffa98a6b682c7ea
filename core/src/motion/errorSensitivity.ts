/**
 * Sensitivity of a number to independent unit errors: ∂number/∂error for each error source, in the number's unit per standard
 * error. Since the errors are independent, the squares of the sensitivities add up to the variance of the number.
 */
export class ErrorSensitivity {
  private readonly by = new Map<number, number>()

  /**
   * Adds `by` to the sensitivity to one error.
   *
   * @param error see `errorNumber`
   */
  add(error: number, by: number): void {
    this.by.set(error, (this.by.get(error) ?? 0) + by)
  }

  /** Returns the standard error of the number. */
  size(): number {
    let variance = 0
    for (const by of this.by.values()) variance += by * by
    return Math.sqrt(variance)
  }

  /** Returns the covariance with another number that depends on the same errors. */
  productWith(other: ErrorSensitivity): number {
    let sum = 0
    for (const [error, by] of this.by) sum += by * (other.by.get(error) ?? 0)
    return sum
  }

  /** Calls `act` for each error that the number depends on. */
  each(act: (error: number, by: number) => void): void {
    for (const [error, by] of this.by) act(error, by)
  }

  /** Returns the part that is due to the marks, without errors shared by many values. */
  ofMarks(): ErrorSensitivity {
    const marks = new ErrorSensitivity()
    for (const [error, by] of this.by) if (error >= 0) marks.by.set(error, by)
    return marks
  }

  clear(): void {
    this.by.clear()
  }
}

/** Errors of one mark: x and y of its point, x and y of its second point. */
const ERRORS_PER_MARK = 4
const MOST_FRAMES = 2 ** 20

/**
 * Returns the number under which an error of a mark is kept.
 *
 * @param body number of the body among all bodies
 * @param which 0, 1: x and y of the point; 2, 3: x and y of the second point
 */
export function errorNumber(body: number, frame: number, which: number): number {
  return ERRORS_PER_MARK * (MOST_FRAMES * body + frame) + which
}

/** Returns the frame of the mark with the error of this number; −1 for an error that belongs to no mark. */
export const frameOfError = (error: number) =>
  error < 0 ? -1 : Math.floor(error / ERRORS_PER_MARK) % MOST_FRAMES

/**
 * Numbers of errors that belong to no mark and that many values share: of masses, by the body's number; of g; of known numbers,
 * by their index in `knownNumbers`.
 */
export const commonError = {
  freeFall: -1,
  mass: (body: number) => -2 - 2 * body,
  knownNumber: (index: number) => -3 - 2 * index,
}
