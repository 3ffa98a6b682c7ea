import { type Point, smallerEigenvalue } from '../geometry/index.ts'
import {
  type Grid,
  gridLike,
  gridOf,
  halved,
  overlap,
  type Plane,
  partOf,
  type Rect,
  rectAround,
  roughValueAt,
  valueAt,
} from './grid.ts'
import { depthIn, type Outline, sizeOf } from './outline.ts'
import type { Scene } from './scene.ts'

/**
 * The image of a body as it was learned: how much of each pixel it covers, and how bright it is there.
 * Lengths are in pixels of the size that it is kept in: a large body is matched in a smaller picture.
 */
export interface Template {
  /** How often the picture was halved. */
  level: number
  /** Share of each pixel that the body covers. */
  cover: Grid
  /** Brightness, times that share. */
  body: Grid
  /** Brightness of all that was there. */
  seen: Grid
  /** Where the body's point lies in these grids. */
  anchor: Point
  /** 1 for pixels on which the body can have an influence: those that it covers, and the ring around them. */
  near: Uint8Array
  /** Middles of the first and last pixel that the body covers in each row, x and y by turns. */
  rim: Float64Array
  /** How far it was smeared when it was learned. */
  smear: Point
}

/** Pose of a body in a picture relative to its template: position of its point, scale and turn. */
export interface Pose extends Point {
  scale: number
  turn: number
}

/** A body of more pixels than this is matched at half the size: it has enough of them left. */
const MOST_PIXELS = 900
/** Pixels around the outline that are included. */
export const RING = 3
/** Share of a pixel below which the body does not count as being there. */
const COVERED = 0.02

/** Returns the pyramid level at which a body with an outline is matched: how often the picture is halved. */
export function levelFor({ radii }: Outline, levels: number): number {
  let area = 0
  for (const radius of radii) area += (Math.PI * radius * radius) / radii.length
  let level = 0
  while (area > MOST_PIXELS && level < levels - 1) {
    area /= 4
    level++
  }
  return level
}

/** Returns the rectangle of a frame that is needed to learn a template. */
export function templateReach(at: Point, { radii }: Outline): Rect {
  const reach = Math.max(...radii) + 40
  return rectAround(at, { x: reach, y: reach }, 8)
}

/** Radii around a click, smallest first, of which the first that tells the place is taken. */
const POINT_RADII = [7, 9, 11, 13, 16, 20]
/** Standard error of its place, in pixels, from which on a part of the body tells it well. */
const TELLS = 0.035
/** What of a pattern never fits, in brightness. */
const MISFIT = 4

/**
 * Returns the smallest round part of a body around the click that tells the place by its own pattern. It holds the
 * clicked point better than the whole body does, which turns, is lit from one side and is seen at an angle. Null
 * where only the whole body does: it is even, or small.
 *
 * @param noise standard deviation of one frame's noise
 */
export function pointOutline(plane: Plane, at: Point, outline: Outline, noise: number): Outline | null {
  const grid = gridOf(plane)
  const typical = sizeOf(outline)
  for (const radius of POINT_RADII) {
    if (radius > 0.8 * typical) return null
    const part = { radii: outline.radii.map((own) => Math.min(own, radius)) }
    if (patternError(grid, at, part, noise, 0.5) < TELLS) return part
  }
  return null
}

/** Pixels from the outline on inwards that belong to the pattern of a body, and not to its edge. */
const EDGE = 1

/**
 * Returns the standard error, in pixels of the frame, with which the pattern within a body's outline tells its place along the
 * direction in which it tells least: large for an even body, and for one striped along one direction. The edge does not
 * count, since it changes with what is behind it.
 *
 * @param outline by which the template was learned
 * @param noise standard deviation of one frame's noise
 */
export function placeError({ seen, anchor, level }: Template, outline: Outline, noise: number): number {
  const by = 2 ** level
  const small = { radii: outline.radii.map((radius) => radius / by) }
  return by * patternError(seen, anchor, small, noise / by, EDGE)
}

/**
 * Returns the standard error of a place in pixels of a grid: noise and misfit over the gradients along the weakest direction
 * (the smaller eigenvalue of the structure tensor: Shi and Tomasi, "Good features to track", CVPR 1994).
 *
 * @param depth pixels within the outline from which on gradients count
 */
function patternError(grid: Grid, at: Point, outline: Outline, noise: number, depth: number): number {
  const depthAt = depthIn(outline)
  const reach = Math.max(...outline.radii)
  const left = Math.max(1, Math.floor(at.x - reach) - grid.x)
  const top = Math.max(1, Math.floor(at.y - reach) - grid.y)
  const right = Math.min(grid.width - 1, Math.ceil(at.x + reach) - grid.x)
  const bottom = Math.min(grid.height - 1, Math.ceil(at.y + reach) - grid.y)
  let [xx, xy, yy] = [0, 0, 0]
  for (let row = top; row < bottom; row++)
    for (let column = left; column < right; column++) {
      if (depthAt(grid.x + column + 0.5 - at.x, grid.y + row + 0.5 - at.y) < depth) continue
      const i = row * grid.width + column
      const gx = (grid.data[i + 1] - grid.data[i - 1]) / 2
      const gy = (grid.data[i + grid.width] - grid.data[i - grid.width]) / 2
      xx += gx * gx
      xy += gx * gy
      yy += gy * gy
    }
  const weakest = smallerEigenvalue(xx, xy, yy)
  return weakest > 0 ? (noise + MISFIT) / Math.sqrt(weakest) : Number.POSITIVE_INFINITY
}

/** Learns the template of a body from a frame. */
export function learnTemplate(plane: Plane, at: Point, outline: Outline, level: number): Template {
  const rect = overlap(plane, rectAround(at, reachOf(outline, level), 8))
  const whole = gridOf(partOf(plane, evenPart(rect)))
  const cover = gridLike(whole, new Float32Array(whole.data.length))
  const depthAt = depthIn(outline)
  for (let row = 0; row < whole.height; row++)
    for (let column = 0; column < whole.width; column++) {
      const inside = depthAt(whole.x + column + 0.5 - at.x, whole.y + row + 0.5 - at.y)
      // Between a pixel inside and a pixel outside the border the body covers a part.
      cover.data[row * whole.width + column] = Math.min(1, Math.max(0, inside / 1.5 + 0.5))
    }
  let [small, part] = [whole, cover]
  for (let k = 0; k < level; k++) [small, part] = [halved(small), halved(part)]
  const body = gridLike(
    small,
    small.data.map((light, i) => light * part.data[i]),
  )
  return {
    level,
    cover: part,
    body,
    seen: small,
    anchor: { x: at.x / 2 ** level, y: at.y / 2 ** level },
    near: nearCover(part),
    rim: rimOf(part),
    smear: { x: 0, y: 0 },
  }
}

/** 1 for pixels that a body covers, and for those that are no more than a ring away from them. */
function nearCover({ width, height, data }: Grid): Uint8Array {
  const near = new Uint8Array(width * height)
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++) {
      if (data[row * width + column] < COVERED) continue
      for (let y = Math.max(0, row - RING); y <= Math.min(height - 1, row + RING); y++)
        near.fill(1, y * width + Math.max(0, column - RING), y * width + Math.min(width, column + RING + 1))
    }
  return near
}

/** Middles of the first and last pixel that a body covers in each row: nothing of it goes farther in any direction. */
function rimOf({ x, y, width, height, data }: Grid): Float64Array {
  const rim: number[] = []
  for (let row = 0; row < height; row++) {
    const line = data.subarray(row * width, (row + 1) * width)
    const isCovered = (share: number) => share >= COVERED
    const first = line.findIndex(isCovered)
    if (first < 0) continue
    for (const column of [first, line.findLastIndex(isCovered)]) rim.push(x + column + 0.5, y + row + 0.5)
  }
  return Float64Array.from(rim)
}

/** Returns what of a pixel's light comes from a body that covers a share of it, in front of a known background. */
function bodyLight(light: number, cover: number, behind: number): number {
  return Math.min(255 * cover, Math.max(0, light - (1 - cover) * behind))
}

/**
 * Takes over a share of what a frame shows into a template, so that it keeps up with what changes. Its outline
 * stays.
 *
 * @param pose of the body in the frame, in pixels of the template's size
 * @param smear of the body in the frame, in the same
 * @param share 0: nothing is taken over, 1: all
 */
export function renewTemplate(
  template: Template,
  scene: Scene,
  pose: Pose,
  smear: Point,
  share: number,
): Template {
  const { cover, anchor } = template
  const body = gridLike(template.body, template.body.data.slice())
  const seen = gridLike(template.seen, template.seen.data.slice())
  const [cos, sin] = [pose.scale * Math.cos(pose.turn), pose.scale * Math.sin(pose.turn)]
  for (let row = 0; row < cover.height; row++)
    for (let column = 0; column < cover.width; column++) {
      const at = row * cover.width + column
      if (cover.data[at] < COVERED) continue
      const u = cover.x + column + 0.5 - anchor.x
      const v = cover.y + row + 0.5 - anchor.y
      const [x, y] = [pose.x + cos * u - sin * v, pose.y + sin * u + cos * v]
      const light = valueAt(scene.frame, x, y)
      if (Number.isNaN(light)) continue
      const behind = roughValueAt(scene.background, x, y)
      const isKnown = scene.known !== null && roughValueAt(scene.known, x, y) > 0.9
      const own = isKnown ? bodyLight(light, cover.data[at], behind) : light * cover.data[at]
      body.data[at] += share * (own - body.data[at])
      seen.data[at] += share * (light - seen.data[at])
    }
  const own = turned(smear, -pose.turn)
  const mixed = (a: number, b: number) => Math.sign(b || a) * Math.sqrt((1 - share) * a * a + share * b * b)
  return {
    ...template,
    body,
    seen,
    smear: { x: mixed(template.smear.x, own.x), y: mixed(template.smear.y, own.y) },
  }
}

/** Returns a vector turned by an angle. */
export function turned({ x, y }: Point, angle: number): Point {
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
  return { x: cos * x - sin * y, y: sin * x + cos * y }
}

function reachOf({ radii }: Outline, level: number): Point {
  const reach = Math.max(...radii) + (RING + 4) * 2 ** level
  return { x: reach, y: reach }
}

/** Returns the part of a rectangle that can be halved three times without a rest. */
function evenPart({ x, y, width, height }: Rect): Rect {
  const [left, top] = [Math.ceil(x / 8) * 8, Math.ceil(y / 8) * 8]
  return {
    x: left,
    y: top,
    width: Math.max(0, Math.floor((x + width - left) / 8) * 8),
    height: Math.max(0, Math.floor((y + height - top) / 8) * 8),
  }
}

/** Returns the additional smear that takes a body with one smear to another: their variances add. */
export function smearBetween(has: Point, wanted: Point): Point {
  const xx = wanted.x ** 2 - has.x ** 2
  const yy = wanted.y ** 2 - has.y ** 2
  const xy = wanted.x * wanted.y - has.x * has.y
  const half = (xx + yy) / 2
  const root = Math.hypot((xx - yy) / 2, xy)
  const largest = half + root
  if (largest < 0.25) return { x: 0, y: 0 }
  const length = Math.sqrt(largest)
  const angle = 0.5 * Math.atan2(2 * xy, xx - yy)
  return { x: length * Math.cos(angle), y: length * Math.sin(angle) }
}
