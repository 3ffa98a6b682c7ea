import type { Point } from '../geometry/index.ts'
import { floatList, withArena } from '../kernels/index.ts'
import { type Grid, gridLike, halved, roughValueAt } from './grid.ts'
import { depthIn, type Outline, sizeOf } from './outline.ts'
import { STEP, smearedAlong } from './smear.ts'

/** Shapes of bodies, by what they cover of each pixel. */

/** The coverage of pixels by a body, around its point. */
export interface Shape {
  /** How often the picture is halved before the shape is laid on it. */
  level: number
  /** Share of each pixel that it covers, where its point is at (0, 0), in pixels of that size. */
  cover: Grid
  /** From the body's point to the middle of the shape, in the frame's pixels. */
  middle: Point
  /** Radius of a circle of the same area, in the frame's pixels. */
  radius: number
  /** Direction of its longer principal axis, in radians from the picture's right towards down; null if it is round. */
  axis: number | null
  /** Distance from the body's point to the farthest part of the shape, in the frame's pixels. */
  reach: number
}

/** A shape is elongated if its principal axes differ by more than this factor. */
const ELONGATED = 1.3

/** Shapes are laid on pictures in which they have about this radius at most. */
const MOST_RADIUS = 20
/** Pixels around a shape that are looked at, too. */
const RING = 4

/** Returns the shape of an outline. */
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
  for (let row = 0, at = 0; row < cover.height; row++)
    for (let column = 0; column < cover.width; column++, at++) {
      const [x, y] = [each * (column - reach + 0.5), each * (row - reach + 0.5)]
      cover.data[at] = Math.min(1, Math.max(0, depthAt(x, y) / (1.2 * each) + 0.5))
    }
  return shapeWith(cover, level, Math.max(...outline.radii))
}

/**
 * Returns the shape with a cover around its point.
 *
 * @param farthest distance from the point to the farthest part, in the frame's pixels
 */
function shapeWith(cover: Grid, level: number, farthest: number): Shape {
  const each = 2 ** level
  const sum = { all: 0, x: 0, y: 0 }
  for (let row = 0, at = 0; row < cover.height; row++)
    for (let column = 0; column < cover.width; column++, at++) {
      const share = cover.data[at]
      sum.all += share
      sum.x += share * each * (cover.x + column + 0.5)
      sum.y += share * each * (cover.y + row + 0.5)
    }
  const middle = { x: sum.x / sum.all, y: sum.y / sum.all }
  const half = Math.hypot(cover.width, cover.height) / 2
  const { axis, ratio } = principalAxis(cover, { x: middle.x / each, y: middle.y / each }, half)
  return {
    level,
    cover,
    middle,
    radius: each * Math.sqrt(sum.all / Math.PI),
    axis: ratio > ELONGATED ? axis : null,
    reach: farthest,
  }
}

/** What of a grid counts as the body's: within an outline that is so much larger, by a share and in pixels of the grid. */
const AROUND = { share: 1.25, pixels: 2 }
/** Share of a pixel from which on it is a part of the body, or of something else. */
const PART = 0.5

/**
 * Returns the shape of what is covered where an outline lies: what hangs together there, with holes filled. An outline is
 * told by a few radii, which a stick can't be.
 *
 * @param coverage reduced to the shape
 * @param place of the outline's point in the frame, and how it has grown and turned there
 * @returns null if nothing hangs together there, or it is not known what is covered
 */
export function shapeCovered(
  coverage: Grid,
  outline: Outline,
  { level }: Shape,
  place: Point & { scale: number; turn: number },
): Shape | null {
  const each = 2 ** level
  const grown = { radii: outline.radii.map((radius) => (AROUND.share * radius) / each + AROUND.pixels) }
  const depthAt = depthIn(grown)
  const reach = Math.ceil(Math.max(...grown.radii)) + RING
  const width = 2 * reach
  const [cos, sin] = [place.scale * Math.cos(place.turn), place.scale * Math.sin(place.turn)]
  const values = new Float32Array(width * width)
  for (let row = 0, at = 0; row < width; row++)
    for (let column = 0; column < width; column++, at++) {
      const [u, v] = [column - reach + 0.5, row - reach + 0.5]
      if (depthAt(u, v) < 0) continue
      const [x, y] = [place.x / each + cos * u - sin * v, place.y / each + sin * u + cos * v]
      values[at] = roughValueAt(coverage, x, y)
      if (Number.isNaN(values[at])) return null
    }
  const cover = gridLike({ x: -reach, y: -reach, width, height: width }, largestPart(values, width))
  const isEmpty = cover.data.every((share) => share === 0)
  return isEmpty ? null : shapeWith(cover, level, each * (reach - RING))
}

/** Returns the largest part of a square of values that hangs together, with the pixels next to it; 0 for the others. */
function largestPart(values: Float32Array, width: number): Float32Array {
  const labels = new Int32Array(values.length)
  let [best, most] = [0, 0]
  for (let first = 0, label = 0; first < values.length; first++) {
    if (labels[first] > 0 || values[first] < PART) continue
    label++
    const open = [first]
    labels[first] = label
    let size = 0
    for (let at = open.pop(); at !== undefined; at = open.pop()) {
      size++
      for (const next of [at - 1, at + 1, at - width, at + width]) {
        if (labels[next] !== 0 || !(values[next] >= PART)) continue
        labels[next] = label
        open.push(next)
      }
    }
    if (size > most) [best, most] = [label, size]
  }
  return values.map((value, at) => {
    const isNear = [at, at - 1, at + 1, at - width, at + width].some(
      (near) => best > 0 && labels[near] === best,
    )
    return isNear ? Math.min(1, value) : 0
  })
}

/**
 * Principal axis of what is covered within `reach` of a point, all in the grid's pixels: its centroid, the direction of
 * the longer axis in radians, and the ratio of the lengths of both axes (second central moments: Hu, IRE Trans. Inf.
 * Theory 8 (1962) 179).
 */
export function principalAxis(
  { x: left, y: top, width, height, data }: Grid,
  around: Point,
  reach: number,
): { centroid: Point; axis: number; ratio: number } {
  let [all, x1, y1, xx, xy, yy] = [0, 0, 0, 0, 0, 0]
  const [from, to] = [Math.max(0, Math.floor(around.y - reach - top)), Math.ceil(around.y + reach - top)]
  const first = Math.max(0, Math.floor(around.x - reach - left))
  const last = Math.min(width, Math.ceil(around.x + reach - left))
  for (let row = from; row < Math.min(height, to); row++)
    for (let column = first; column < last; column++) {
      const [dx, dy] = [left + column + 0.5 - around.x, top + row + 0.5 - around.y]
      const share = data[row * width + column]
      if (!(share > 0) || dx * dx + dy * dy > reach * reach) continue
      all += share
      x1 += share * dx
      y1 += share * dy
      xx += share * dx * dx
      xy += share * dx * dy
      yy += share * dy * dy
    }
  if (!(all > 0)) return { centroid: around, axis: 0, ratio: 1 }
  const [mx, my] = [x1 / all, y1 / all]
  const [a, b, c] = [xx / all - mx * mx, xy / all - mx * my, yy / all - my * my]
  const spread = Math.hypot((a - c) / 2, b)
  const mean = (a + c) / 2
  return {
    centroid: { x: around.x + mx, y: around.y + my },
    axis: 0.5 * Math.atan2(2 * b, a - c),
    ratio: Math.sqrt((mean + spread) / Math.max(1e-6, mean - spread)),
  }
}

/** Returns a grid at the pyramid level of a shape. */
export function reducedTo(shape: Shape, grid: Grid): Grid {
  let small = grid
  for (let level = 0; level < shape.level; level++) small = halved(small)
  return small
}

/** A shape smeared along the motion during exposure, on pixels around (0, 0). */
export interface Drawn {
  cover: Grid
  /**
   * Of each pixel four numbers: what is covered, its slopes to the right and down, and 0 where neither it nor the next ones
   * to the right and down have slopes, 1 elsewhere.
   */
  packed: Float32Array
}

/** Draws a shape, smeared along a way in its pixels; normalised so that its most covered pixel is 1. */
export function drawn({ cover }: Shape, smear: Point): Drawn {
  const isSmeared = Math.hypot(smear.x, smear.y) > STEP
  const smeared = isSmeared ? smearedCover(cover, smear) : cover
  const { width, data } = smeared
  let most = isSmeared ? 0 : 1
  if (isSmeared) for (const share of data) most = Math.max(most, share)
  const count = data.length
  const packed = new Float32Array(4 * count)
  for (let k = 0; k < count; k++) {
    const right = k + 1 < count ? data[k + 1] : 0
    const left = k > 0 ? data[k - 1] : 0
    const below = k + width < count ? data[k + width] : 0
    const above = k >= width ? data[k - width] : 0
    packed[4 * k] = data[k] / most
    packed[4 * k + 1] = (right - left) / (2 * most)
    packed[4 * k + 2] = (below - above) / (2 * most)
    if (right === left && below === above) continue
    // This pixel is one of the four that a place between pixels is told by.
    for (const corner of [k, k - 1, k - width, k - width - 1]) if (corner >= 0) packed[4 * corner + 3] = 1
  }
  return { cover: smeared, packed }
}

/** Returns a cover along a way, on as many more pixels as that takes. */
function smearedCover(cover: Grid, smear: Point): Grid {
  const more = { x: Math.ceil(Math.abs(smear.x) / 2), y: Math.ceil(Math.abs(smear.y) / 2) }
  const { width, height } = { width: cover.width + 2 * more.x, height: cover.height + 2 * more.y }
  const rect = { x: cover.x - more.x, y: cover.y - more.y, width, height }
  return withArena(8 * width * height + 2 ** 14, () => {
    const padded = floatList(width * height).fill(0)
    for (let row = 0; row < cover.height; row++) {
      const line = cover.data.subarray(row * cover.width, (row + 1) * cover.width)
      padded.set(line, (row + more.y) * width + more.x)
    }
    const steps = Math.min(12, Math.ceil(Math.hypot(smear.x, smear.y) / STEP))
    return gridLike(rect, smearedAlong(padded, width, height, smear, steps).slice())
  })
}
