/**
 * How far one number, or a weighed sum of numbers, goes with each of the marks' errors: what it moves by where that
 * error is one standard error. The errors are independent, so that squares add.
 */
export class Sway {
  private readonly by = new Map<number, number>()

  /** @param error number of one of the errors: see `errorNumber` */
  add(error: number, by: number): void {
    this.by.set(error, (this.by.get(error) ?? 0) + by)
  }

  /** The standard error. */
  size(): number {
    let variance = 0
    for (const by of this.by.values()) variance += by * by
    return Math.sqrt(variance)
  }

  /** Covariance with another number that goes with the same errors. */
  productWith(other: Sway): number {
    let sum = 0
    for (const [error, by] of this.by) sum += by * (other.by.get(error) ?? 0)
    return sum
  }

  /** Each error that it goes with, by its number. */
  each(act: (error: number, by: number) => void): void {
    for (const [error, by] of this.by) act(error, by)
  }

  /** The part of it that comes from marks. */
  ofMarks(): Sway {
    const marks = new Sway()
    for (const [error, by] of this.by) if (error >= 0) marks.by.set(error, by)
    return marks
  }

  clear(): void {
    this.by.clear()
  }
}

/** Errors that a mark has: along both directions of the picture, of its point and of its second one. */
const EACH = 4
const MOST_FRAMES = 2 ** 20

/** The number of one error of a frame's mark (0 and 1: its point's; 2 and 3: its second one's) of a body, by the body's number. */
export function errorNumber(body: number, frame: number, which: number): number {
  return EACH * (MOST_FRAMES * body + frame) + which
}

/** The frame of the mark that has an error, by that error's number; of errors that no mark has, below 0. */
export const frameOfError = (error: number) => (error < 0 ? -1 : Math.floor(error / EACH) % MOST_FRAMES)

/** Numbers of errors that no mark has, but that many values share: of masses, of g, of constants by their name. */
export const commonError = {
  freeFall: -1,
  mass: (body: number) => -2 - 2 * body,
  named: (name: string) => {
    const known = named.get(name) ?? -3 - 2 * named.size
    named.set(name, known)
    return known
  },
}
const named = new Map<string, number>()
