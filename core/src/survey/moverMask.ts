import type { Luma } from './luma.ts'
import { bodiesIn, connectedRegions, type Region, sizeOf, tidied } from './regions.ts'
import { type StillPicture, stillPicture } from './stillPicture.ts'

/** What differs from the picture of what stands still: masks of pixels, and their solid regions without shadows. */

/** A picture reduced in size: its brightness, and its colour differences at half of that size where it has some. */
export interface SmallPicture {
  luma: Luma
  blue: Luma | null
  red: Luma | null
}

/** Least difference of brightness and of colour that counts. */
const LEAST = { luma: 10, colour: 6 }
/** Share of the brightness that is left in a shadow, at least. */
const SHADE = 0.5
/** Shares of a region's pixels that are in shadow where it is a body with its shadow, and how far beside it that lies, in sizes of both. */
const SHADOWS = { least: 0.2, most: 0.85, apart: 0.3 }
/** The pictures of what stands still, of brightness and of colour differences. */
type Still = Record<keyof SmallPicture, StillPicture | null>

/** Returns what stands still in pictures of one size. */
export function stillOf(pictures: readonly SmallPicture[]): Still {
  const [{ blue, red }] = pictures
  const planes = (key: keyof SmallPicture) => pictures.flatMap((picture) => picture[key] ?? [])
  return {
    luma: stillPicture(planes('luma'), LEAST.luma),
    blue: blue && stillPicture(planes('blue'), LEAST.colour),
    red: red && stillPicture(planes('red'), LEAST.colour),
  }
}

/** What a pixel of a mask is: nothing, something that moves, or something that may be its shadow. */
const [MOVING, SHADED] = [1, 2]

/**
 * Marks the pixels of a plane that differ from what stands still by more than noise.
 *
 * @param shade share of the brightness that a shadow leaves; null where there are no shadows
 */
function markDiffering(
  mask: Uint8Array,
  { data }: Luma,
  { value, limit }: StillPicture,
  shade: number | null,
): void {
  for (let i = 0; i < data.length; i++) {
    const off = data[i] - value[i]
    if (off > limit) mask[i] = MOVING
    else if (off < -limit) mask[i] = shade !== null && data[i] > shade * value[i] ? SHADED : MOVING
  }
}

/** Returns which pixels of a picture differ from what stands still: in colour, or in brightness, where they may be in shadow. */
export function differing({ luma, blue, red }: SmallPicture, still: Still): Uint8Array {
  const mask = new Uint8Array(luma.data.length)
  // Without colours a shadow can't be told from a dark body.
  markDiffering(mask, luma, still.luma!, blue && red ? SHADE : null)
  for (const [plane, of] of [
    [blue, still.blue],
    [red, still.red],
  ] as const) {
    if (!plane || !of) continue
    const coarse = new Uint8Array(plane.data.length)
    markDiffering(coarse, plane, of, null)
    for (let at = coarse.indexOf(MOVING); at >= 0; at = coarse.indexOf(MOVING, at + 1)) {
      const [column, row] = [2 * (at % plane.width), 2 * Math.floor(at / plane.width)]
      for (let y = row; y < Math.min(luma.height, row + 2); y++)
        for (let x = column; x < Math.min(luma.width, column + 2); x++) mask[y * luma.width + x] = MOVING
    }
  }
  return mask
}

/** Returns a region without its shadow, where it has one beside it and more than that. */
function withoutShadow(region: Region, shaded: Uint8Array, mask: Uint8Array, width: number): Region {
  const [body, shadow] = [newMiddle(), newMiddle()]
  for (let row = region.top; row <= region.bottom; row++)
    for (let column = region.left; column <= region.right; column++) {
      const at = row * width + column
      const part = shaded[at] === SHADED ? shadow : mask[at] === 1 ? body : null
      if (!part) continue
      part.count++
      part.x += column + 0.5
      part.y += row + 0.5
    }
  const share = shadow.count / (shadow.count + body.count)
  if (share < SHADOWS.least || share > SHADOWS.most) return region
  const [x, y] = [body.x / body.count, body.y / body.count]
  const away = Math.hypot(shadow.x / shadow.count - x, shadow.y / shadow.count - y)
  // A body that is dark in places is not its shadow.
  return away < SHADOWS.apart * sizeOf(region) ? region : { ...region, area: body.count, x, y }
}

const newMiddle = () => ({ count: 0, x: 0, y: 0 })

/**
 * Returns the regions of a mask without strings and edges, which are thin, and the mask of what is solid; where nothing else is, what is
 * thin counts among the regions as well, unless only what is solid is asked for.
 */
export function solidRegions(
  shaded: Uint8Array,
  width: number,
  isSolidOnly: boolean,
): { regions: Region[]; solid: Uint8Array } {
  const mask = new Uint8Array(shaded.length)
  for (let i = 0; i < shaded.length; i++) if (shaded[i] !== 0) mask[i] = 1
  const kept = tidied(mask, width)
  const bodies = connectedRegions(kept.slice(), width)
    .flatMap((region) => bodiesIn(region, kept, width))
    .map((region) => withoutShadow(region, shaded, kept, width))
  if (isSolidOnly) return { regions: bodies, solid: kept }
  const isApart = ({ left, right, top, bottom }: Region) =>
    bodies.every((one) => one.left > right || one.right < left || one.top > bottom || one.bottom < top)
  return { regions: [...bodies, ...connectedRegions(mask, width).filter(isApart)], solid: kept }
}
