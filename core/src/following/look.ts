import type { Point } from '../geometry/index.ts'
import type { Scene } from './background.ts'
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
import { type Outline, radiusAt, sizeOf } from './outline.ts'

/**
 * The image of a body as it was learned: how much of each pixel it covers, and how bright it is there.
 * Lengths are in pixels of the size that it is kept in: a large body is matched in a smaller picture.
 */
export interface Look {
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
  /** How far it was smeared when it was learned. */
  smear: Point
}

/** How a body lies in a picture: where its point is, how large it is and how it is turned, against its look. */
export interface Pose extends Point {
  scale: number
  turn: number
}

/** A look as it is expected in one frame, on that frame's own pixels. */
export interface Patch {
  width: number
  height: number
  /** Where the body's point lies in it, from its corner. */
  anchor: Point
  cover: Float32Array
  /** 0 where it was rendered without. */
  body: Float32Array
  seen: Float32Array
}

/** A body of more pixels than this is matched at half the size: it has enough of them left. */
const MOST_PIXELS = 900
/** Pixels around the outline that are looked at, too. */
const RING = 3
/** Share of a pixel below which the body does not count as being there. */
const COVERED = 0.02

/** Size that a body of an outline is matched at: how often the picture is halved. */
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

/** Rectangle of a frame that is needed to learn a look. */
export function lookReach(at: Point, { radii }: Outline): Rect {
  const reach = Math.max(...radii) + 40
  return rectAround(at, { x: reach, y: reach }, 8)
}

/** Radii around a click, smallest first, of which the first that tells the place is taken. */
const POINT_RADII = [7, 9, 11, 13, 16, 20]
/** What tells a place, in pixels: the noise, and what never fits, over the gradients. */
const TELLS = 0.035
const MISFIT = 4

/**
 * The smallest round part of a body around the click that tells the place by its own pattern. It holds the
 * clicked point better than the whole body does, which turns, is lit from one side and is seen askew. Null
 * where only the whole body does: it is even, or small.
 *
 * @param noise standard deviation of one frame's noise
 */
export function pointOutline(plane: Plane, at: Point, outline: Outline, noise: number): Outline | null {
  const grid = gridOf(plane)
  const usual = sizeOf(outline)
  for (const radius of POINT_RADII) {
    if (radius > 0.8 * usual) return null
    const part = { radii: outline.radii.map((own) => Math.min(own, radius)) }
    let [xx, xy, yy] = [0, 0, 0]
    for (let row = 1; row + 1 < grid.height; row++)
      for (let column = 1; column + 1 < grid.width; column++) {
        const x = grid.x + column + 0.5 - at.x
        const y = grid.y + row + 0.5 - at.y
        const away = Math.hypot(x, y)
        if (away > radius || away > radiusAt(part, Math.atan2(y, x)) - 0.5) continue
        const i = row * grid.width + column
        const gx = (grid.data[i + 1] - grid.data[i - 1]) / 2
        const gy = (grid.data[i + grid.width] - grid.data[i - grid.width]) / 2
        xx += gx * gx
        xy += gx * gy
        yy += gy * gy
      }
    const weakest = (xx + yy) / 2 - Math.hypot((xx - yy) / 2, xy)
    if (weakest > 0 && (noise + MISFIT) / Math.sqrt(weakest) < TELLS) return part
  }
  return null
}

/** Learns the look of a body from a frame. */
export function learnLook(plane: Plane, at: Point, outline: Outline, level: number): Look {
  const rect = overlap(plane, rectAround(at, reachOf(outline, level), 8))
  const whole = gridOf(partOf(plane, evenPart(rect)))
  const cover = gridLike(whole, new Float32Array(whole.data.length))
  for (let row = 0; row < whole.height; row++)
    for (let column = 0; column < whole.width; column++) {
      const x = whole.x + column + 0.5 - at.x
      const y = whole.y + row + 0.5 - at.y
      const inside = radiusAt(outline, Math.atan2(y, x)) - Math.hypot(x, y)
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

/** What of a pixel's light comes from a body that covers a share of it, in front of a known background. */
function bodyLight(light: number, cover: number, behind: number): number {
  return Math.min(255 * cover, Math.max(0, light - (1 - cover) * behind))
}

/**
 * Takes over a share of what a frame shows into a look, so that it keeps up with what changes. Its outline
 * stays.
 *
 * @param pose of the body in the frame, in pixels of the look's size
 * @param smear of the body in the frame, in the same
 * @param share 0: nothing is taken over, 1: all
 */
export function renewLook(look: Look, scene: Scene, pose: Pose, smear: Point, share: number): Look {
  const { cover, anchor } = look
  const body = gridLike(look.body, look.body.data.slice())
  const seen = gridLike(look.seen, look.seen.data.slice())
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
  return { ...look, body, seen, smear: { x: mixed(look.smear.x, own.x), y: mixed(look.smear.y, own.y) } }
}

/** A vector turned by an angle. */
export function turned({ x, y }: Point, angle: number): Point {
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
  return { x: cos * x - sin * y, y: sin * x + cos * y }
}

function reachOf({ radii }: Outline, level: number): Point {
  const reach = Math.max(...radii) + (RING + 4) * 2 ** level
  return { x: reach, y: reach }
}

/** The part of a rectangle that can be halved three times without a rest. */
function evenPart({ x, y, width, height }: Rect): Rect {
  const [left, top] = [Math.ceil(x / 8) * 8, Math.ceil(y / 8) * 8]
  return {
    x: left,
    y: top,
    width: Math.max(0, Math.floor((x + width - left) / 8) * 8),
    height: Math.max(0, Math.floor((y + height - top) / 8) * 8),
  }
}

/** How far a body that has one smear is to be smeared on to have another: their variances add. */
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

/**
 * A look as it is expected in a frame: scaled and turned, then smeared along the way that it goes while the
 * shutter is open, on pixels of the frame so that its point lies at `pose`.
 *
 * @param pose in pixels of the look's size
 * @param withBody whether the body's own light is needed: only where it is known what is behind it
 */
export function renderPatch(look: Look, pose: Pose, smear: Point, withBody: boolean): Patch {
  const { anchor } = look
  const length = Math.hypot(smear.x, smear.y)
  const [cos, sin] = [Math.cos(pose.turn) / pose.scale, Math.sin(pose.turn) / pose.scale]
  // What the look covers, turned: half its diagonal is always enough, its own sides where it is not turned.
  const reach = reachIn(look, pose)
  const left = Math.floor(pose.x - reach.x - Math.abs(smear.x) / 2)
  const top = Math.floor(pose.y - reach.y - Math.abs(smear.y) / 2)
  const width = 2 * Math.ceil((pose.x + reach.x + Math.abs(smear.x) / 2 - left) / 2)
  const height = 2 * Math.ceil((pose.y + reach.y + Math.abs(smear.y) / 2 - top) / 2)
  const size = width * height
  const out = { cover: new Float32Array(size), body: new Float32Array(size), seen: new Float32Array(size) }
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++) {
      const u = left + column + 0.5 - pose.x
      const v = top + row + 0.5 - pose.y
      const x = anchor.x + cos * u + sin * v
      const y = anchor.y - sin * u + cos * v
      sampleLook(look, x, y, withBody, out, row * width + column)
    }
  const patch: Patch = { width, height, anchor: { x: pose.x - left, y: pose.y - top }, ...out }
  return length < 0.5 ? patch : smeared(patch, smear, length, withBody)
}

/** What a look has at a point of it, between pixels, into a place of a patch. Far from the body it is not looked at closely. */
function sampleLook(
  { cover, body, seen, near }: Look,
  x: number,
  y: number,
  withBody: boolean,
  out: { cover: Float32Array; body: Float32Array; seen: Float32Array },
  at: number,
): void {
  const { width, height } = cover
  const left = Math.floor(x - 0.5 - cover.x)
  const top = Math.floor(y - 0.5 - cover.y)
  const corner = top * width + left
  const isInside = left >= 1 && top >= 1 && left + 2 < width && top + 2 < height
  if (!isInside || (near[corner] === 0 && near[corner + 1] === 0 && near[corner + width] === 0)) {
    out.seen[at] = roughValueAt(seen, x, y)
    return
  }
  out.cover[at] = Math.min(1, Math.max(0, valueAt(cover, x, y)))
  if (withBody) out.body[at] = valueAt(body, x, y)
  out.seen[at] = valueAt(seen, x, y)
}

/** How far the body itself goes from its point, turned and scaled, with the ring around it. */
function reachIn({ cover, anchor }: Look, { scale, turn }: Pose): Point {
  const [cos, sin] = [scale * Math.cos(turn), scale * Math.sin(turn)]
  let x = 0
  let y = 0
  for (let row = 0; row < cover.height; row++)
    for (let column = 0; column < cover.width; column++) {
      if (cover.data[row * cover.width + column] < COVERED) continue
      const u = cover.x + column + 0.5 - anchor.x
      const v = cover.y + row + 0.5 - anchor.y
      x = Math.max(x, Math.abs(cos * u - sin * v))
      y = Math.max(y, Math.abs(sin * u + cos * v))
    }
  return { x: x + RING, y: y + RING }
}

/** A patch drawn along a line, each instant counting alike. */
function smeared(patch: Patch, smear: Point, length: number, withBody: boolean): Patch {
  const { width, height, cover, body } = patch
  const taps = tapsAlong(smear, length)
  const there = coveredPart(patch)
  /** Of what is 0 but for the body. */
  const drawBody = (data: Float32Array) => {
    const out = new Float32Array(data.length)
    for (const { dx, dy, weight } of taps)
      for (let row = Math.max(there.top, dy); row < Math.min(there.bottom, height + dy); row++) {
        const from = row * width
        const to = from - dy * width - dx
        const last = Math.min(there.right, width + dx)
        for (let column = Math.max(there.left, dx); column < last; column++)
          out[to + column] += weight * data[from + column]
      }
    return out
  }
  const drawAll = (data: Float32Array) => {
    const out = new Float32Array(data.length)
    for (const { dx, dy, weight } of taps)
      for (let row = 0; row < height; row++) {
        const from = Math.min(height - 1, Math.max(0, row + dy)) * width
        const to = row * width
        const [first, last] = [Math.max(0, -dx), Math.min(width, width - dx)]
        // Beyond the border it goes on as it is there.
        for (let column = 0; column < first; column++) out[to + column] += weight * data[from]
        for (let column = first; column < last; column++)
          out[to + column] += weight * data[from + column + dx]
        for (let column = last; column < width; column++) out[to + column] += weight * data[from + width - 1]
      }
    return out
  }
  return {
    ...patch,
    cover: drawBody(cover),
    body: withBody ? drawBody(body) : body,
    seen: drawAll(patch.seen),
  }
}

/** The rows and columns of a patch in which the body has an influence. */
function coveredPart({ width, height, cover }: Patch) {
  const part = { left: width, right: 0, top: height, bottom: 0 }
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++) {
      if (cover[row * width + column] === 0) continue
      part.left = Math.min(part.left, column)
      part.right = Math.max(part.right, column + 1)
      part.top = Math.min(part.top, row)
      part.bottom = row + 1
    }
  return part
}

/** Whole pixels whose weighed sum is the mean along a line through the middle, between pixels by their nearest four. */
function tapsAlong(smear: Point, length: number): { dx: number; dy: number; weight: number }[] {
  const steps = Math.min(16, Math.ceil(length / 1.5) + 1)
  const taps = new Map<number, { dx: number; dy: number; weight: number }>()
  const add = (dx: number, dy: number, weight: number) => {
    const key = 4096 * dy + dx
    const tap = taps.get(key)
    if (tap) tap.weight += weight
    else taps.set(key, { dx, dy, weight })
  }
  for (let k = 0; k < steps; k++) {
    const share = (k + 0.5) / steps - 0.5
    const [x, y] = [-share * smear.x, -share * smear.y]
    const [left, top] = [Math.floor(x), Math.floor(y)]
    const [du, dv] = [x - left, y - top]
    add(left, top, ((1 - du) * (1 - dv)) / steps)
    add(left + 1, top, (du * (1 - dv)) / steps)
    add(left, top + 1, ((1 - du) * dv) / steps)
    add(left + 1, top + 1, (du * dv) / steps)
  }
  return [...taps.values()].filter(({ weight }) => weight > 1e-6)
}

/** A patch at half the size. */
export function halvedPatch(patch: Patch): Patch {
  const { width, height, anchor } = patch
  const half = (data: Float32Array) => halved({ x: 0, y: 0, width, height, data }).data
  return {
    width: width >> 1,
    height: height >> 1,
    anchor: { x: anchor.x / 2, y: anchor.y / 2 },
    cover: half(patch.cover),
    body: half(patch.body),
    seen: half(patch.seen),
  }
}
