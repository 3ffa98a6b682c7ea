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
