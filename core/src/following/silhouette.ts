import type { Point } from '../geometry/index.ts'
import { doubleList, kernels, placeOf, withArena } from '../kernels/index.ts'
import { worthOf } from './finder.ts'
import { type Grid, gridLike, overlap, type Rect, rectAround } from './grid.ts'
import { closed } from './morphology.ts'
import { type Drawn, drawn, principalAxis, type Shape } from './shape.ts'

/**
 * Places a body by its silhouette: the pixels that differ from a known background in brightness or in colour. Unlike the
 * pattern on it, the outline of a ball does not turn.
 */

/** A fit of a shape to what covers the background. */
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

/** Search for a shape. Lengths are in the frame's pixels. */
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

/** Returns the coverage without the holes that a pattern leaves in a silhouette where it resembles the background. */
export function closedFor(coverage: Grid, shape: Shape): Grid {
  const half = Math.round((CLOSED * shape.radius) / 2 ** shape.level)
  return gridLike(coverage, closed(coverage.data, coverage.width, coverage.height, half))
}

/**
 * Finds a shape in a part of a frame: from afar by how much of a square is covered inside and how little around it, then
 * by robust least squares on the covered shares, for place and growth (`core/kernels/shapes.ts` has the method). Null where the background is known too little, or nothing is there.
 */
export function findShape(coverage: Grid, shape: Shape, search: ShapeSearch): Fitted | null {
  const each = 2 ** shape.level
  const small = closedFor(coverage, shape)
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

/**
 * Returns where a shape fits best near a start, in pixels of the grid; null where it runs away, or too little is known there.
 *
 * @param wholeRounds rounds at the beginning in which outliers count, too
 */
function refined(
  coverage: Grid,
  shape: Shape,
  { cover, packed }: Drawn,
  search: ShapeSearch & { start: Point; wholeRounds: number },
): Omit<Fitted, 'rival'> | null {
  const { scale: before, growth, reach, at, start, wholeRounds } = search
  const each = 2 ** shape.level
  const half = Math.hypot(cover.width, cover.height) / 2
  const [wide, high] = shape.axis === null ? [cover.width / 2, cover.height / 2] : [half, half]
  const window = overlap(coverage, rectAround(start, { x: wide * before, y: high * before }, 1))
  const [left, top] = [window.x - coverage.x, window.y - coverage.y]
  if (knownIn(coverage, window) < 0.5 * window.width * window.height) return null
  const fit = withArena(4 * (coverage.data.length + packed.length) + 1024, () => {
    const pose = doubleList(5)
    pose.set([start.x - coverage.x, start.y - coverage.y, Math.log(before), search.turn])
    const isFound = kernels().refineShape(
      placeOf(coverage.data),
      coverage.width,
      left,
      top,
      left + window.width,
      top + window.height,
      placeOf(packed),
      cover.x,
      cover.y,
      cover.width,
      cover.height,
      shape.axis === null ? 3 : 4,
      wholeRounds,
      0.5 * (shape.radius / each),
      growth,
      placeOf(pose),
    )
    return isFound ? [...pose] : null
  })
  if (!fit) return null
  const [x, y] = [fit[0] + coverage.x, fit[1] + coverage.y]
  if (Math.hypot(each * x - at.x, each * y - at.y) > reach + shape.radius) return null
  return { x, y, scale: Math.exp(fit[2]), turn: fit[3], score: fit[4] }
}

/** Number of the pixels in a rectangle of a grid that are known. */
function knownIn(grid: Grid, { x, y, width, height }: Rect): number {
  let count = 0
  for (let row = y - grid.y; row < y - grid.y + height; row++)
    for (let k = row * grid.width + x - grid.x; k < row * grid.width + x - grid.x + width; k++)
      if (!Number.isNaN(grid.data[k])) count++
  return count
}
