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
/** Share of a square that must be known in both pictures. */
const LEAST_KNOWN = 0.6
/** Farthest that a square is found from where it is expected, in pixels. */
const FARTHEST = 3
/** Standard deviation along one axis of what sampling and compression leave, in pixels. */
const SAMPLING = 0.03

/** A picture with where it is known (1) or not (0), at the same size. */
export interface KnownPicture {
  value: Grid
  known: Grid
}

/**
 * Returns where a square of one picture lies in another one, to a fraction of a pixel, by Gauss–Newton on the brightness itself with
 * unknown gain and offset (Lucas and Kanade 1981; Baker and Matthews, Int. J. Computer Vision 56 (2004) 221). Pixels that are not known in
 * either picture do not count. Null where too few are known or the search leaves its range.
 *
 * @param step from the first picture to about where the square lies in the second one; its shape is kept, its place is improved
 */
export function patchShift(
  [picture, other]: readonly [KnownPicture, KnownPicture],
  at: Point,
  step: Step,
): PatchShift | null {
  const template = samples(picture, at, (point) => point)
  const expected = step.forward(at)
  const to = { ...expected }
  for (let round = 0; round < MOST_STEPS; round++) {
    const shift = { x: to.x - expected.x, y: to.y - expected.y }
    const seen = samples(other, at, (point) => {
      const { x, y } = step.forward(point)
      return { x: x + shift.x, y: y + shift.y }
    })
    const least = leastShift(template, seen)
    if (!least) return null
    const { by, covariance, score } = least
    const onwards = applied(step.jacobian(at), by)
    to.x += onwards.x
    to.y += onwards.y
    const away = Math.hypot(to.x - expected.x, to.y - expected.y)
    if (!(away <= FARTHEST)) return null
    if (Math.hypot(by.x, by.y) < CONVERGED) return { at: to, covariance, score }
  }
  return null
}

/** A square of samples, row by row, and which of them are known. */
interface Samples {
  values: Float64Array
  isKnown: Uint8Array
}

/** Returns the brightness on a square grid around a point as a map sees it. */
function samples({ value, known }: KnownPicture, at: Point, map: (point: Point) => Point): Samples {
  const values = new Float64Array(SIDE * SIDE)
  const isKnown = new Uint8Array(SIDE * SIDE)
  for (let row = 0, i = 0; row < SIDE; row++)
    for (let column = 0; column < SIDE; column++, i++) {
      const { x, y } = map({ x: at.x + column - HALF, y: at.y + row - HALF })
      values[i] = valueAt(value, x, y)
      const isThere = !Number.isNaN(values[i])
      isKnown[i] = isThere && known.data[Math.floor(y) * known.width + Math.floor(x)] === 1 ? 1 : 0
    }
  return { values, isKnown }
}

/**
 * Returns the shift by which what is seen must be moved on to match the template best, apart from gain and offset; null if too few samples are
 * known.
 */
function leastShift(
  template: Samples,
  seen: Samples,
): { by: Point; covariance: Matrix2; score: number } | null {
  const columns: number[][] = []
  for (let row = 1; row < SIDE - 1; row++)
    for (let column = 1; column < SIDE - 1; column++) {
      const i = row * SIDE + column
      if (!template.isKnown[i] || !seen.isKnown[i]) continue
      const gradient = [
        (seen.values[i + 1] - seen.values[i - 1]) / 2,
        (seen.values[i + SIDE] - seen.values[i - SIDE]) / 2,
      ]
      if (!gradient.some(Number.isNaN)) columns.push([...gradient, seen.values[i], template.values[i]])
    }
  const count = columns.length
  if (count < LEAST_KNOWN * (SIDE - 2) ** 2) return null
  const means = [0, 1, 2, 3].map((k) => columns.reduce((sum, values) => sum + values[k], 0) / count)
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
  const variance = Math.max(0, residuals) / (count - 4) / gain ** 2
  return {
    by: { x: scaled.x / gain, y: scaled.y / gain },
    covariance: [
      [variance * cofactors[0][0] + SAMPLING ** 2, variance * cofactors[0][1]],
      [variance * cofactors[1][0], variance * cofactors[1][1] + SAMPLING ** 2],
    ],
    score: both / Math.sqrt(seenSquares * templateSquares),
  }
}
