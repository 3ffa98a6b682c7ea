import { type Grid, valueAt } from '../following/index.ts'
import { applied, inverse, type Matrix2, type Point, type Step } from '../geometry/index.ts'

/** Where a square of one picture lies in another one. */
export interface PatchShift {
  /** Place of the square's middle in the other picture. */
  at: Point
  covariance: Matrix2
  /** Zero-mean normalised cross-correlation of the square with what was found. */
  score: number
}

/** Half the side of a square, in pixels. */
const HALF = 10
const SIDE = 2 * HALF + 1
const MOST_STEPS = 12
/** A step shorter than this, in pixels, ends the search. */
const CONVERGED = 0.003
/** Farthest that a square is found from where it is expected, in pixels. */
const FARTHEST = 3
/** Standard deviation along one axis of what sampling and compression leave, in pixels. */
const SAMPLING = 0.03

/**
 * Returns where a square of one picture lies in another one, to a fraction of a pixel, by Gauss–Newton on the brightness itself with
 * unknown gain and offset (Lucas and Kanade 1981; Baker and Matthews, Int. J. Computer Vision 56 (2004) 221). Null where a part of
 * either square is not known or the search leaves its range.
 *
 * @param pictures the two pictures at the same size; a pixel that is not known is NaN
 * @param step from the first picture to about where the square lies in the second one; its shape is kept, its place is improved
 */
export function patchShift(
  [picture, other]: readonly [Grid, Grid],
  at: Point,
  step: Step,
): PatchShift | null {
  const template = samples(picture, at, (point) => point)
  if (!template) return null
  const expected = step.forward(at)
  const to = { ...expected }
  for (let round = 0; round < MOST_STEPS; round++) {
    const shift = { x: to.x - expected.x, y: to.y - expected.y }
    const seen = samples(other, at, (point) => {
      const { x, y } = step.forward(point)
      return { x: x + shift.x, y: y + shift.y }
    })
    if (!seen) return null
    const { by, covariance, score } = leastShift(template, seen)
    const onwards = applied(step.jacobian(at), by)
    to.x += onwards.x
    to.y += onwards.y
    const away = Math.hypot(to.x - expected.x, to.y - expected.y)
    if (!(away <= FARTHEST)) return null
    if (Math.hypot(by.x, by.y) < CONVERGED) return { at: to, covariance, score }
  }
  return null
}

/** Returns the brightness on a square grid around a point as a map sees it, row by row; null where it is not known. */
function samples(picture: Grid, at: Point, map: (point: Point) => Point): Float64Array | null {
  const values = new Float64Array(SIDE * SIDE)
  for (let row = 0, i = 0; row < SIDE; row++)
    for (let column = 0; column < SIDE; column++, i++) {
      const { x, y } = map({ x: at.x + column - HALF, y: at.y + row - HALF })
      values[i] = valueAt(picture, x, y)
      if (Number.isNaN(values[i])) return null
    }
  return values
}

/** Returns the shift by which what is seen must be moved on to match the template best, apart from gain and offset. */
function leastShift(
  template: Float64Array,
  seen: Float64Array,
): { by: Point; covariance: Matrix2; score: number } {
  const inner = (SIDE - 2) ** 2
  // Sums of products of gradient x and y, brightness and template, about their means.
  const columns: number[][] = []
  for (let row = 1; row < SIDE - 1; row++)
    for (let column = 1; column < SIDE - 1; column++) {
      const i = row * SIDE + column
      columns.push([
        (seen[i + 1] - seen[i - 1]) / 2,
        (seen[i + SIDE] - seen[i - SIDE]) / 2,
        seen[i],
        template[i],
      ])
    }
  const means = [0, 1, 2, 3].map((k) => columns.reduce((sum, values) => sum + values[k], 0) / inner)
  const product = (a: number, b: number) =>
    columns.reduce((sum, values) => sum + (values[a] - means[a]) * (values[b] - means[b]), 0)
  const seenSquares = product(2, 2)
  const templateSquares = product(3, 3)
  const both = product(2, 3)
  // template = gain · (seen + gradient · by) + offset: linear in gain and gain · by; the brightness is projected out.
  const along = [product(0, 2), product(1, 2)]
  const without = (a: number, b: number) => product(a, b) - (along[a] * along[b]) / seenSquares
  const xx = without(0, 0)
  const xy = without(0, 1)
  const yy = without(1, 1)
  const right = [0, 1].map((a) => product(a, 3) - (along[a] * both) / seenSquares)
  const cofactors = inverse([
    [xx, xy],
    [xy, yy],
  ])
  const scaled = {
    x: cofactors[0][0] * right[0] + cofactors[0][1] * right[1],
    y: cofactors[1][0] * right[0] + cofactors[1][1] * right[1],
  }
  const gain = (both - along[0] * scaled.x - along[1] * scaled.y) / seenSquares
  const residuals = templateSquares - both ** 2 / seenSquares - scaled.x * right[0] - scaled.y * right[1]
  const variance = Math.max(0, residuals) / (inner - 4) / gain ** 2
  return {
    by: { x: scaled.x / gain, y: scaled.y / gain },
    covariance: [
      [variance * cofactors[0][0] + SAMPLING ** 2, variance * cofactors[0][1]],
      [variance * cofactors[1][0], variance * cofactors[1][1] + SAMPLING ** 2],
    ],
    score: both / Math.sqrt(seenSquares * templateSquares),
  }
}
