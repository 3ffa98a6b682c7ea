import type { Point } from '../geometry/index.ts'
import { median } from '../time/index.ts'
import { worthOf } from './finder.ts'
import { type Grid, gridLike, halved, overlap, type Rect, rectAround, roughValueAt } from './grid.ts'
import { depthIn, type Outline, sizeOf } from './outline.ts'

/**
 * Places a body by its silhouette: the pixels that differ from a known background in brightness or in colour. Unlike the
 * pattern on it, the outline of a ball does not turn.
 */

/** Less than so many deviations are no difference. */
const LEAST_DIFFERENCE = 4
/** Share of a body's usual difference below which what differs is not the body. */
const FAINT = 0.35
/** Pixels around one in which the largest difference counts as that of the body alone. */
const NEIGHBOURS = 2

/**
 * Share of each pixel that something in front of the background covers, from its difference over the largest one nearby,
 * which is taken to be that of the body alone; 0 where nothing differs, NaN where the background is not known.
 *
 * @param contrast usual difference within the body, in deviations: what differs far less is a shadow, or left over from
 *   another frame by the compression; 0 where it is not known yet
 */
export function coverageOf(difference: Grid, contrast: number): Grid {
  const { width, height } = difference
  const across = extremeNearby(difference.data, NEIGHBOURS, width, height, 1, width, true)
  const largest = extremeNearby(across, NEIGHBOURS, height, width, width, 1, true)
  const data = difference.data.map((value, at) => {
    if (Number.isNaN(value)) return value
    return largest[at] < LEAST_DIFFERENCE ? 0 : value / Math.max(largest[at], FAINT * contrast)
  })
  return { ...difference, data }
}

/**
 * A grid with its holes and bays closed up to a width (morphological closing: Serra, Image Analysis and Mathematical
 * Morphology, 1982): a pattern that is here and there like the background leaves holes in a silhouette.
 */
function closed(grid: Grid, half: number): Grid {
  const { width, height } = grid
  const everywhere = (data: Float32Array, isLargest: boolean) => {
    const across = extremeNearby(data, half, width, height, 1, width, isLargest)
    return extremeNearby(across, half, height, width, width, 1, isLargest)
  }
  const data = everywhere(everywhere(grid.data, true), false)
  // What is not known stays so.
  return { ...grid, data: data.map((value, at) => (Number.isNaN(grid.data[at]) ? Number.NaN : value)) }
}

/** The largest, or smallest, of the values so far away along lines of a grid; what is not known does not count. */
function extremeNearby(
  data: Float32Array,
  half: number,
  length: number,
  lines: number,
  step: number,
  lineStep: number,
  isLargest: boolean,
): Float32Array {
  const extreme = new Float32Array(data.length)
  const sign = isLargest ? 1 : -1
  for (let line = 0; line < lines; line++)
    for (let i = 0; i < length; i++) {
      let most = Number.NEGATIVE_INFINITY
      const end = Math.min(length - 1, i + half)
      for (let k = Math.max(0, i - half); k <= end; k++) {
        const value = sign * data[line * lineStep + k * step]
        if (value > most) most = value
      }
      extreme[line * lineStep + i * step] = most === Number.NEGATIVE_INFINITY ? 0 : sign * most
    }
  return extreme
}

/** Share of a shape's radius up to which holes in a silhouette are closed. */
const CLOSED = 0.35

/** A shape as a body covers pixels with it, around its point. */
export interface Shape {
  /** How often the picture is halved before the shape is laid on it. */
  level: number
  /** Share of each pixel that it covers, where its point is at (0, 0), in pixels of that size. */
  cover: Grid
  /** From the body's point to the middle of the shape, in the frame's pixels. */
  middle: Point
  /** Radius of a circle of the same area, in the frame's pixels. */
  radius: number
}

/** Shapes are laid on pictures in which they have about this radius at most. */
const MOST_RADIUS = 20
/** Pixels around a shape that are looked at, too. */
const RING = 4

/** The shape of an outline. */
export function shapeOf(outline: Outline): Shape {
  let level = 0
  while (sizeOf(outline) / 2 ** level > MOST_RADIUS && level < 3) level++
  const each = 2 ** level
  const depthAt = depthIn(outline)
  const reach = Math.ceil(Math.max(...outline.radii) / each) + RING + 2
  const cover = gridLike(
    { x: -reach, y: -reach, width: 2 * reach, height: 2 * reach },
    new Float32Array(4 * reach * reach),
  )
  const sum = { all: 0, x: 0, y: 0 }
  for (let row = 0, at = 0; row < cover.height; row++)
    for (let column = 0; column < cover.width; column++, at++) {
      const [x, y] = [each * (column - reach + 0.5), each * (row - reach + 0.5)]
      const share = Math.min(1, Math.max(0, depthAt(x, y) / (1.2 * each) + 0.5))
      cover.data[at] = share
      sum.all += share
      sum.x += share * x
      sum.y += share * y
    }
  return {
    ...{ level, cover },
    middle: { x: sum.x / sum.all, y: sum.y / sum.all },
    radius: each * Math.sqrt(sum.all / Math.PI),
  }
}

/** Where a shape fits what covers the background. */
export interface Fitted extends Point {
  /** Growth of the shape. */
  scale: number
  /** 1: exactly the shape covers the background there; 0 or less: nothing like it does. */
  score: number
  /** Another place that fits nearly as well; null for none. */
  rival: (Point & { score: number }) | null
}

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
  /** Growth of the shape when it was seen last. */
  scale: number
  /** The way that it goes while the shutter is open. */
  smear: Point
}

/**
 * Finds a shape in a part of a frame: from afar by how much of a square is covered inside and how little around it, then
 * by robust least squares on the covered shares, for place and growth (iteratively reweighted by Geman and McClure's
 * function). Null where the background is known too little, or nothing is there.
 */
export function findShape(coverage: Grid, shape: Shape, search: ShapeSearch): Fitted | null {
  const each = 2 ** shape.level
  let small = coverage
  for (let level = 0; level < shape.level; level++) small = halved(small)
  small = closed(small, Math.round((CLOSED * shape.radius) / each))
  const expected = { x: search.at.x / each, y: search.at.y / each }
  // From where it is expected as well: what hides a part of it draws it away from there if everything counts at first.
  const isNear = search.error < 0.5 * shape.radius
  const smeared = drawn(shape, { x: search.smear.x / each, y: search.smear.y / each })
  const fitted = (start: Point, wholeRounds: number) =>
    refined(small, shape, smeared, search, start, wholeRounds) ?? []
  const found = [
    ...placesOf(small, shape, search).flatMap((start) => fitted(start, 2)),
    ...(isNear ? [fitted(expected, 0)].flat() : []),
  ].map((fit) => ({ ...fit, x: each * fit.x, y: each * fit.y }))
  const worth = (fit: Point & { score: number }) => worthOf(fit.score, fit, search.at, search.error)
  found.sort((a, b) => worth(b) - worth(a))
  const [best] = found
  if (!best) return null
  const rival = found.find(({ x, y }) => Math.hypot(x - best.x, y - best.y) > shape.radius) ?? null
  return { ...best, rival: rival && { x: rival.x, y: rival.y, score: rival.score } }
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

/** A shape that is smeared along the way that the body goes, with its slopes, on pixels around (0, 0). */
interface Drawn {
  cover: Grid
  slopeX: Float32Array
  slopeY: Float32Array
}

/** Draws a shape, smeared along a way in its pixels. */
function drawn({ cover }: Shape, smear: Point): Drawn {
  const smeared = smearedCover(cover, tapsOf(smear), smear)
  const { width, data } = smeared
  const slopes = (step: number) => data.map((_, at) => ((data[at + step] ?? 0) - (data[at - step] ?? 0)) / 2)
  return { cover: smeared, slopeX: slopes(1), slopeY: slopes(width) }
}

/** The mean of a cover over points along a way. */
function smearedCover(cover: Grid, taps: Point[], smear: Point): Grid {
  if (taps.length === 1) return cover
  const more = { x: Math.ceil(Math.abs(smear.x) / 2), y: Math.ceil(Math.abs(smear.y) / 2) }
  const { width, height } = { width: cover.width + 2 * more.x, height: cover.height + 2 * more.y }
  const rect = { x: cover.x - more.x, y: cover.y - more.y, width, height }
  const data = new Float32Array(width * height)
  for (let row = 0, at = 0; row < height; row++)
    for (let column = 0; column < width; column++, at++)
      for (const { x, y } of taps)
        data[at] += roughValueAt(cover, rect.x + column + 0.5 - x, rect.y + row + 0.5 - y) / taps.length
  return gridLike(rect, data)
}

/**
 * Where a shape fits best near a start, in pixels of the grid; null where it runs away, or too little is known there.
 *
 * @param wholeRounds rounds at the beginning in which outliers count, too
 */
function refined(
  coverage: Grid,
  shape: Shape,
  { cover, slopeX, slopeY }: Drawn,
  { scale: before, reach, at }: ShapeSearch,
  start: Point,
  wholeRounds: number,
): Omit<Fitted, 'rival'> | null {
  const each = 2 ** shape.level
  const window = overlap(
    coverage,
    rectAround(start, { x: (cover.width / 2) * before, y: (cover.height / 2) * before }, 1),
  )
  const pixels = knownIn(coverage, window)
  if (pixels.length < 1.5 * window.width * window.height) return null
  let [x, y, growth] = [start.x, start.y, Math.log(before)]
  const { width, height, data } = cover
  for (let round = 0; round < ROUNDS; round++) {
    const scale = Math.exp(growth)
    // Normal equations of place and growth.
    const normal = new Float64Array(9)
    const right = new Float64Array(3)
    for (let k = 0; k < pixels.length; k += 3) {
      const u = (pixels[k] - x) / scale
      const v = (pixels[k + 1] - y) / scale
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
      const bx = -gx / scale
      const by = -gy / scale
      const bg = -(u * gx + v * gy)
      right[0] += weight * bx * off
      right[1] += weight * by * off
      right[2] += weight * bg * off
      normal[0] += weight * bx * bx
      normal[1] += weight * bx * by
      normal[2] += weight * bx * bg
      normal[4] += weight * by * by
      normal[5] += weight * by * bg
      normal[8] += weight * bg * bg
    }
    normal[3] = normal[1]
    normal[6] = normal[2]
    normal[7] = normal[5]
    // The growth is held near that of the frame before: by so much as the noise of a pixel's share is.
    const hold = (0.1 / GROWTH) ** 2
    normal[8] += hold
    right[2] -= hold * (growth - Math.log(before))
    const change = solved(normal, right)
    if (!change) return null
    const most = 0.5 * (shape.radius / each)
    const size = Math.hypot(change[0], change[1])
    const part = size > most ? most / size : 1
    x += part * change[0]
    y += part * change[1]
    growth = Math.min(Math.log(before) + 0.2, Math.max(Math.log(before) - 0.2, growth + part * change[2]))
    if (size < SETTLED && round >= wholeRounds) break
  }
  if (Math.hypot(each * x - at.x, each * y - at.y) > reach + shape.radius) return null
  const scale = Math.exp(growth)
  let [residual, all] = [0, 0]
  for (let k = 0; k < pixels.length; k += 3) {
    const share = roughValueAt(cover, (pixels[k] - x) / scale, (pixels[k + 1] - y) / scale)
    residual += (pixels[k + 2] - share) ** 2
    all += share ** 2
  }
  return { x, y, scale, score: all > 0 ? 1 - residual / all : 0 }
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

/** Points along a way through the middle, about a pixel and a half apart. */
function tapsOf({ x, y }: Point): Point[] {
  const count = Math.min(12, Math.max(1, Math.ceil(Math.hypot(x, y) / 1.5)))
  return Array.from({ length: count }, (_, k) => {
    const share = (k + 0.5) / count - 0.5
    return { x: share * x, y: share * y }
  })
}

/** Solution of three symmetric equations by Cramer's rule; null where they are singular. */
function solved(m: Float64Array, r: Float64Array): [number, number, number] | null {
  const minor = (a: number, b: number, c: number, d: number) => m[a] * m[d] - m[b] * m[c]
  const [c0, c1, c2] = [minor(4, 5, 7, 8), -minor(3, 5, 6, 8), minor(3, 4, 6, 7)]
  const determinant = m[0] * c0 + m[1] * c1 + m[2] * c2
  if (!(Math.abs(determinant) > 1e-12)) return null
  const inverse = [
    [c0, -minor(1, 2, 7, 8), minor(1, 2, 4, 5)],
    [c1, minor(0, 2, 6, 8), -minor(0, 2, 3, 5)],
    [c2, -minor(0, 1, 6, 7), minor(0, 1, 3, 4)],
  ]
  return inverse.map((row) => (row[0] * r[0] + row[1] * r[1] + row[2] * r[2]) / determinant) as [
    number,
    number,
    number,
  ]
}

/** What a frame shows within a shape. */
export interface Inside {
  /** Share of the known pixels that differ from the background; NaN where less than half of all are known. */
  share: number
  /** Median of their differences in deviations; NaN likewise. */
  contrast: number
}

/** How what a shape covers at a place differs from the background. */
export function insideOf(difference: Grid, shape: Shape, at: Point, scale: number): Inside {
  const each = 2 ** shape.level
  let [differing, all] = [0, 0]
  const known: number[] = []
  for (let row = 0; row < difference.height; row++)
    for (let column = 0; column < difference.width; column++) {
      const u = (difference.x + column + 0.5 - at.x) / (each * scale)
      const v = (difference.y + row + 0.5 - at.y) / (each * scale)
      const cover = roughValueAt(shape.cover, u, v)
      if (cover < 0.9) continue
      all++
      const value = difference.data[row * difference.width + column]
      if (Number.isNaN(value)) continue
      known.push(value)
      if (value > LEAST_DIFFERENCE / 2) differing++
    }
  if (known.length <= 0.5 * all) return { share: Number.NaN, contrast: Number.NaN }
  return { share: differing / known.length, contrast: median(known) }
}
