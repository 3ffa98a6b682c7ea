import type { Point } from '../geometry/index.ts'
import { closed } from './coverage.ts'
import { worthOf } from './finder.ts'
import { type Grid, overlap, type Rect, rectAround, roughValueAt } from './grid.ts'
import { type Drawn, drawn, principalAxis, type Shape } from './shape.ts'

/**
 * Places a body by its silhouette: the pixels that differ from a known background in brightness or in colour. Unlike the
 * pattern on it, the outline of a ball does not turn.
 */

/** Where a shape fits what covers the background. */
export interface Fitted extends Point {
  /** Growth of the shape. */
  scale: number
  /** Turn of the shape, in radians; stays as it was if the shape is round. */
  turn: number
  /** 1: exactly the shape covers the background there; 0 or less: nothing like it does. */
  score: number
  /** Another place that fits nearly as well; null for none. */
  rival: (Point & { score: number }) | null
}

/** Share of a shape's radius up to which holes in a silhouette are closed. */
const CLOSED = 0.45

/** Rounds of refinement, and the change of a place, in pixels, below which it ends. */
const ROUNDS = 12
const SETTLED = 0.01
/** Residuals beyond this share of a pixel are outliers: something hides the body there, or something else is there. */
const OUTLIER = 0.35
/** Deviation of the shape's growth from one frame to the next. */
const GROWTH = 0.02

/** Where a shape is looked for: lengths are in the frame's pixels. */
export interface ShapeSearch {
  /** Where the body's point is expected, how sure that is, and how far around it is looked. */
  at: Point
  error: number
  reach: number
  /** Growth of the shape when it was seen last, by how much its logarithm may have changed, and its expected turn. */
  scale: number
  growth: number
  turn: number
  /** The way that it goes while the shutter is open. */
  smear: Point
  /** Score from which on a fit at the expected place is taken without a look at others; never if left out. */
  settles?: number
}

/**
 * Finds a shape in a part of a frame: from afar by how much of a square is covered inside and how little around it, then
 * by robust least squares on the covered shares, for place and growth (iteratively reweighted by Geman and McClure's
 * function). Null where the background is known too little, or nothing is there.
 */
export function findShape(coverage: Grid, shape: Shape, search: ShapeSearch): Fitted | null {
  const each = 2 ** shape.level
  const small = closed(coverage, Math.round((CLOSED * shape.radius) / each))
  const expected = { x: search.at.x / each, y: search.at.y / each }
  // From where it is expected as well: what hides a part of it draws it away from there if everything counts at first.
  const isNear = search.error < 0.5 * shape.radius
  const drawnAt = (turn: number) => {
    const [cos, sin] = [Math.cos(turn) / each, Math.sin(turn) / each]
    const { x, y } = search.smear
    return drawn(shape, { x: cos * x + sin * y, y: cos * y - sin * x })
  }
  const asExpected = drawnAt(search.turn)
  const inFrame = (fit: Omit<Fitted, 'rival'>) => ({ ...fit, x: each * fit.x, y: each * fit.y })
  const near = isNear
    ? refined(small, shape, asExpected, { ...search, start: expected, wholeRounds: 0 })
    : null
  if (near && near.score >= (search.settles ?? Number.POSITIVE_INFINITY))
    return { ...inFrame(near), rival: null }
  const found = [
    ...placesOf(small, shape, search).flatMap((start) => [
      refined(small, shape, asExpected, { ...search, start, wholeRounds: 2 }),
      turnedStart(small, shape, search, start, drawnAt),
    ]),
    near,
  ].flatMap((fit) => (fit ? [inFrame(fit)] : []))
  const worth = (fit: Point & { score: number }) => worthOf(fit.score, fit, search.at, search.error)
  found.sort((a, b) => worth(b) - worth(a))
  const [best] = found
  if (!best) return null
  const rival = found.find(({ x, y }) => Math.hypot(x - best.x, y - best.y) > shape.radius) ?? null
  return { ...best, rival: rival && { x: rival.x, y: rival.y, score: rival.score } }
}

/**
 * Fit of an elongated shape that begins at the centroid and along the principal axis of what is covered near a start, so
 * that it is found however far it has turned; null for a round shape, or where it does not fit.
 */
function turnedStart(
  coverage: Grid,
  shape: Shape,
  search: ShapeSearch,
  start: Point,
  drawnAt: (turn: number) => Drawn,
): Omit<Fitted, 'rival'> | null {
  if (shape.axis === null) return null
  const each = 2 ** shape.level
  const reach = (shape.reach * search.scale) / each + 2
  let around = { x: start.x + shape.middle.x / each, y: start.y + shape.middle.y / each }
  // The second time around the centroid: then the whole of it lies within reach.
  for (let time = 0; time < 2; time++) around = principalAxis(coverage, around, reach).centroid
  const { axis } = principalAxis(coverage, around, reach)
  // An axis has two directions: the turn nearer to the expected one is taken.
  const off = axis - shape.axis - search.turn
  const turn = search.turn + off - Math.PI * Math.round(off / Math.PI)
  const [cos, sin] = [Math.cos(turn) / each, Math.sin(turn) / each]
  const { x, y } = shape.middle
  const from = { x: around.x - cos * x + sin * y, y: around.y - sin * x - cos * y }
  return refined(coverage, shape, drawnAt(turn), { ...search, turn, start: from, wholeRounds: 2 })
}

/** Places, best first and apart from each other, where much is covered inside and little around. In pixels of the grid. */
function placesOf(
  coverage: Grid,
  { radius, middle, level }: Shape,
  { at, reach, scale }: ShapeSearch,
): Point[] {
  const each = 2 ** level
  const sums = summed(coverage)
  const inside = (Math.sqrt(Math.PI) / 2) * ((radius * scale) / each)
  const around = inside + Math.max(2, 0.5 * inside)
  const step = Math.max(1, inside / 3)
  const found: (Point & { worth: number })[] = []
  const way = reach / each
  const from = { x: (at.x + middle.x) / each, y: (at.y + middle.y) / each }
  for (let dy = -way; dy <= way; dy += step)
    for (let dx = -way; dx <= way; dx += step) {
      if (dx * dx + dy * dy > way * way) continue
      const [x, y] = [from.x + dx, from.y + dy]
      const within = sums(x, y, inside)
      const worth = 2 * within - sums(x, y, around)
      if (within > 0.8 * inside * inside) found.push({ x, y, worth })
    }
  found.sort((a, b) => b.worth - a.worth)
  const apart: Point[] = []
  for (const place of found) {
    if (apart.length === 2) break
    if (apart.every(({ x, y }) => Math.hypot(x - place.x, y - place.y) > inside)) apart.push(place)
  }
  return apart.map(({ x, y }) => ({ x: x - middle.x / each, y: y - middle.y / each }))
}

/** Sum of a grid over squares by their middle and half their side, from sums over rectangles; unknown pixels count as 0. */
function summed({
  x: left,
  y: top,
  width,
  height,
  data,
}: Grid): (x: number, y: number, half: number) => number {
  const sums = new Float64Array((width + 1) * (height + 1))
  for (let row = 0; row < height; row++) {
    let line = 0
    for (let column = 0; column < width; column++) {
      line += data[row * width + column] || 0
      sums[(row + 1) * (width + 1) + column + 1] = sums[row * (width + 1) + column + 1] + line
    }
  }
  return (x, y, half) => {
    const clamp = (value: number, most: number) => Math.min(most, Math.max(0, Math.round(value)))
    const [x0, x1] = [clamp(x - half - left, width), clamp(x + half - left, width)]
    const [y0, y1] = [clamp(y - half - top, height), clamp(y + half - top, height)]
    const at = (column: number, row: number) => sums[row * (width + 1) + column]
    return at(x1, y1) - at(x0, y1) - at(x1, y0) + at(x0, y0)
  }
}

/** Unknowns of a fit: both coordinates, the growth's logarithm, and the turn of an elongated shape. */
const UNKNOWNS = 4

/**
 * Where a shape fits best near a start, in pixels of the grid; null where it runs away, or too little is known there.
 *
 * @param wholeRounds rounds at the beginning in which outliers count, too
 */
function refined(
  coverage: Grid,
  shape: Shape,
  { cover, slopeX, slopeY }: Drawn,
  search: ShapeSearch & { start: Point; wholeRounds: number },
): Omit<Fitted, 'rival'> | null {
  const { scale: before, growth: mostGrowth, turn: turned, reach, at, start, wholeRounds } = search
  const each = 2 ** shape.level
  const half = Math.hypot(cover.width, cover.height) / 2
  const [wide, high] = shape.axis === null ? [cover.width / 2, cover.height / 2] : [half, half]
  const window = overlap(coverage, rectAround(start, { x: wide * before, y: high * before }, 1))
  const pixels = knownIn(coverage, window)
  if (pixels.length < 1.5 * window.width * window.height) return null
  let [x, y, growth, turn] = [start.x, start.y, Math.log(before), turned]
  const { width, height, data } = cover
  const right = new Float64Array(UNKNOWNS)
  const normal = new Float64Array(UNKNOWNS * UNKNOWNS)
  const slopes = new Float64Array(UNKNOWNS)
  const unknowns = shape.axis === null ? UNKNOWNS - 1 : UNKNOWNS
  for (let round = 0; round < ROUNDS; round++) {
    const scale = Math.exp(growth)
    const [cos, sin] = [Math.cos(turn) / scale, Math.sin(turn) / scale]
    normal.fill(0)
    right.fill(0)
    for (let k = 0; k < pixels.length; k += 3) {
      const [dx, dy] = [pixels[k] - x, pixels[k + 1] - y]
      const u = cos * dx + sin * dy
      const v = cos * dy - sin * dx
      const column = u - 0.5 - cover.x
      const row = v - 0.5 - cover.y
      const left = Math.floor(column)
      const top = Math.floor(row)
      if (!(left >= 0 && top >= 0 && left + 1 < width && top + 1 < height)) continue
      const s = column - left
      const t = row - top
      const i = top * width + left
      // Between pixels by the nearest four.
      const a = (1 - s) * (1 - t)
      const b = s * (1 - t)
      const c = (1 - s) * t
      const d = s * t
      const gx = a * slopeX[i] + b * slopeX[i + 1] + c * slopeX[i + width] + d * slopeX[i + width + 1]
      const gy = a * slopeY[i] + b * slopeY[i + 1] + c * slopeY[i + width] + d * slopeY[i + width + 1]
      if (gx === 0 && gy === 0) continue
      const share = a * data[i] + b * data[i + 1] + c * data[i + width] + d * data[i + width + 1]
      const off = pixels[k + 2] - share
      const outlying = 1 + (off / OUTLIER) ** 2
      const weight = round < wholeRounds ? 1 : 1 / (outlying * outlying)
      slopes[0] = sin * gy - cos * gx
      slopes[1] = -sin * gx - cos * gy
      slopes[2] = -(u * gx + v * gy)
      slopes[3] = v * gx - u * gy
      for (let one = 0; one < unknowns; one++) {
        const by = weight * slopes[one]
        right[one] += by * off
        for (let other = 0; other <= one; other++) normal[one * UNKNOWNS + other] += by * slopes[other]
      }
    }
    // The growth is held near that of the frame before: by so much as the noise of a pixel's share is.
    const hold = (0.1 / GROWTH) ** 2
    normal[2 * UNKNOWNS + 2] += hold
    right[2] -= hold * (growth - Math.log(before))
    if (!solveInPlace(normal, right, unknowns)) return null
    const most = 0.5 * (shape.radius / each)
    const size = Math.hypot(right[0], right[1])
    const part = size > most ? most / size : 1
    x += part * right[0]
    y += part * right[1]
    // What hides a part of a body must not make it smaller.
    const grown = growth - Math.log(before) + part * right[2]
    growth = Math.log(before) + Math.min(mostGrowth, Math.max(-mostGrowth, grown))
    if (unknowns === UNKNOWNS) turn += Math.min(0.5, Math.max(-0.5, part * right[3]))
    if (size < SETTLED && round >= wholeRounds) break
  }
  if (Math.hypot(each * x - at.x, each * y - at.y) > reach + shape.radius) return null
  const scale = Math.exp(growth)
  const [cos, sin] = [Math.cos(turn) / scale, Math.sin(turn) / scale]
  let [residual, all] = [0, 0]
  for (let k = 0; k < pixels.length; k += 3) {
    const [dx, dy] = [pixels[k] - x, pixels[k + 1] - y]
    const share = roughValueAt(cover, cos * dx + sin * dy, cos * dy - sin * dx)
    residual += (pixels[k + 2] - share) ** 2
    all += share ** 2
  }
  return { x, y, scale, turn, score: all > 0 ? 1 - residual / all : 0 }
}

/**
 * Solves symmetric positive definite equations in place by Cholesky's factorisation.
 *
 * @param matrix its lower triangle, in rows of `UNKNOWNS`; is overwritten
 * @param right becomes the solution
 * @returns false if the matrix is singular
 */
function solveInPlace(matrix: Float64Array, right: Float64Array, count: number): boolean {
  const at = (row: number, column: number) => row * UNKNOWNS + column
  for (let row = 0; row < count; row++) {
    for (let column = 0; column <= row; column++) {
      let sum = matrix[at(row, column)]
      for (let k = 0; k < column; k++) sum -= matrix[at(row, k)] * matrix[at(column, k)]
      if (column < row) matrix[at(row, column)] = sum / matrix[at(column, column)]
      else if (sum > 1e-9) matrix[at(row, row)] = Math.sqrt(sum)
      else return false
    }
    for (let k = 0; k < row; k++) right[row] -= matrix[at(row, k)] * right[k]
    right[row] /= matrix[at(row, row)]
  }
  for (let row = count - 1; row >= 0; row--) {
    for (let k = row + 1; k < count; k++) right[row] -= matrix[at(k, row)] * right[k]
    right[row] /= matrix[at(row, row)]
  }
  return true
}

/** Of each known pixel of a grid in a rectangle: x and y of its middle, and its value. */
function knownIn(grid: Grid, { x, y, width, height }: Rect): Float32Array {
  const pixels = new Float32Array(3 * width * height)
  let count = 0
  for (let row = y; row < y + height; row++)
    for (let column = x; column < x + width; column++) {
      const value = grid.data[(row - grid.y) * grid.width + column - grid.x]
      if (Number.isNaN(value)) continue
      pixels[count++] = column + 0.5
      pixels[count++] = row + 0.5
      pixels[count++] = value
    }
  return pixels.subarray(0, count)
}
