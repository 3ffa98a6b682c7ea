import type { Point } from '../geometry/index.ts'
import { floatList, halfOf, kernels, placeOf, wholeList } from '../kernels/index.ts'
import { smearedAlong } from './smear.ts'
import { type Pose, RING, type Template } from './template.ts'

/**
 * A template rendered for one frame, on that frame's pixels. Its lists lie in the kernels' memory: valid only while
 * one frame is processed.
 */
export interface Patch {
  width: number
  height: number
  /** Where the body's point lies in it, from its corner. */
  anchor: Point
  cover: Float32Array
  /** The body's own light; null where it was rendered without. */
  body: Float32Array | null
  seen: Float32Array
  /** What each pixel counts for where the background is not known; 0 for those that are not compared. */
  weights: Float32Array
  /** The weights and the weighed light of those that are compared, in rows one behind the other. */
  packed: Float32Array
  /** For each row the first pixel that is compared, and how many there are from it on. */
  runs: Int32Array
  /** Sums of the weights, of the weighed light, and of its square. */
  sums: Float32Array
  /** Width and height of what the body covers. */
  size: [number, number]
}

/**
 * Renders a template: scaled and turned, then smeared along the way that it goes while the shutter is open, on pixels of
 * the frame so that its point lies at `pose`.
 *
 * @param pose in pixels of the template's size
 * @param withBody whether the body's own light is needed: only where it is known what is behind it
 */
export function renderPatch(template: Template, pose: Pose, smear: Point, withBody: boolean): Patch {
  const { anchor, cover, body, seen, near } = template
  const length = Math.hypot(smear.x, smear.y)
  const [cos, sin] = [Math.cos(pose.turn) / pose.scale, Math.sin(pose.turn) / pose.scale]
  const reach = reachIn(template, pose)
  const left = Math.floor(pose.x - reach.x - Math.abs(smear.x) / 2)
  const top = Math.floor(pose.y - reach.y - Math.abs(smear.y) / 2)
  const width = 2 * Math.ceil((pose.x + reach.x + Math.abs(smear.x) / 2 - left) / 2)
  const height = 2 * Math.ceil((pose.y + reach.y + Math.abs(smear.y) / 2 - top) / 2)
  const drawn = blank(width * height, withBody)
  const [u, v] = [left + 0.5 - pose.x, top + 0.5 - pose.y]
  kernels().render(
    placeOf(near),
    placeOf(cover.data),
    withBody ? placeOf(body.data) : 0,
    placeOf(seen.data),
    cover.width,
    cover.height,
    placeOf(drawn.cover),
    drawn.body ? placeOf(drawn.body) : 0,
    placeOf(drawn.seen),
    width,
    height,
    anchor.x + cos * u + sin * v - 0.5 - cover.x,
    anchor.y - sin * u + cos * v - 0.5 - cover.y,
    cos,
    sin,
  )
  const sharp = { width, height, anchor: { x: pose.x - left, y: pose.y - top } }
  return weighed(sharp, length < 0.5 ? drawn : smeared(drawn, width, height, smear))
}

/** Returns a patch at half the size. */
export function halvedPatch(patch: Patch): Patch {
  const { width, height, anchor } = patch
  const half = (data: Float32Array) => halfOf(data, width, height)
  return weighed(
    { width: width >> 1, height: height >> 1, anchor: { x: anchor.x / 2, y: anchor.y / 2 } },
    { cover: half(patch.cover), body: patch.body && half(patch.body), seen: half(patch.seen) },
  )
}

/** What is drawn of a template. */
type Drawn = Pick<Patch, 'cover' | 'body' | 'seen'>

const blank = (size: number, withBody: boolean): Drawn => ({
  cover: floatList(size),
  body: withBody ? floatList(size) : null,
  seen: floatList(size),
})

/** Returns what was drawn, with what each of its pixels counts for. */
function weighed(place: Pick<Patch, 'width' | 'height' | 'anchor'>, drawn: Drawn): Patch {
  const { width, height } = place
  const weights = floatList(width * height)
  const packed = floatList(2 * height * (width + 3))
  const runs = wholeList(2 * height)
  const sums = floatList(7)
  const line = floatList(width + 8)
  kernels().weigh(
    placeOf(drawn.cover),
    placeOf(drawn.seen),
    width,
    height,
    placeOf(weights),
    placeOf(packed),
    placeOf(runs),
    placeOf(sums),
    placeOf(line),
  )
  // The last four are where the body begins and ends, across and down.
  const size: Patch['size'] = [Math.max(1, sums[4] - sums[3]), Math.max(1, sums[6] - sums[5])]
  const { anchor } = place
  const { cover, body, seen } = drawn
  return { width, height, anchor, cover, body, seen, weights, packed, runs, sums, size }
}

/** Returns how far the body itself goes from its point, turned and scaled, with the ring around it. */
function reachIn({ rim, anchor }: Template, { scale, turn }: Pose): Point {
  const [cos, sin] = [scale * Math.cos(turn), scale * Math.sin(turn)]
  let x = 0
  let y = 0
  for (let k = 0; k < rim.length; k += 2) {
    const u = rim[k] - anchor.x
    const v = rim[k + 1] - anchor.y
    x = Math.max(x, Math.abs(cos * u - sin * v))
    y = Math.max(y, Math.abs(sin * u + cos * v))
  }
  return { x: x + RING, y: y + RING }
}

/** Returns what was drawn, along a line, each instant counting alike. */
function smeared(drawn: Drawn, width: number, height: number, smear: Point): Drawn {
  const along = (data: Float32Array) => smearedAlong(data, width, height, smear)
  return { cover: along(drawn.cover), body: drawn.body && along(drawn.body), seen: along(drawn.seen) }
}
