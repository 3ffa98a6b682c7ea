/** A connected region of a mask. */
export interface Region {
  /** Middle of its pixels; the centre of the first pixel is at 0.5. */
  x: number
  y: number
  /** Number of its pixels. */
  area: number
  /** Its box, in pixels: the first and the last column and row. */
  left: number
  right: number
  top: number
  bottom: number
}

/** Fewest pixels of a region: less is noise. */
const LEAST_AREA = 5
/** Most regions of a picture: what is torn into more is not bodies. */
const MOST_REGIONS = 60

/**
 * Returns the connected regions of a mask, row by row, corners included; the largest 60, each of 5 pixels at least.
 *
 * @param mask is emptied
 */
export function connectedRegions(mask: Uint8Array, width: number): Region[] {
  const regions: Region[] = []
  for (let start = mask.indexOf(1); start >= 0; start = mask.indexOf(1, start + 1)) {
    const region = taken(mask, width, start)
    if (region.area >= LEAST_AREA) regions.push(region)
  }
  return regions.sort((a, b) => b.area - a.area).slice(0, MOST_REGIONS)
}

/**
 * Returns a mask with gaps of up to two pixels closed, and then without what is thinner than three: the morphological closing and
 * opening with a square of three.
 */
export function tidied(mask: Uint8Array, width: number): Uint8Array {
  return dilated(eroded(eroded(dilated(mask, width), width), width), width)
}

/** What is thinner than twice this share of a region's size is a rod or an arm, or joins two bodies that touch. */
const THIN = 0.1
/** Smallest part, as a share of the largest, that is a body of its own. */
const PART = 0.3

/** Diameter of a circle of a region's area. */
export const sizeOf = ({ area }: Pick<Region, 'area'>) => 2 * Math.sqrt(area / Math.PI)

/**
 * Returns the bodies in a large region: the parts that are left of it by an opening with a square of a fifth of its size, without
 * the rods and arms that hold them. A small region is one body.
 *
 * @param mask of the picture, in which the region is set
 */
export function bodiesIn(region: Region, mask: Uint8Array, width: number): Region[] {
  const half = Math.floor(THIN * sizeOf(region))
  if (half < 2) return [region]
  const margin = half + 1
  const wide = region.right - region.left + 1 + 2 * margin
  const high = region.bottom - region.top + 1 + 2 * margin
  let part: Uint8Array = new Uint8Array(wide * high)
  for (let row = region.top; row <= region.bottom; row++)
    part.set(
      mask.subarray(row * width + region.left, row * width + region.right + 1),
      (row - region.top + margin) * wide + margin,
    )
  for (let i = 0; i < half; i++) part = eroded(part, wide)
  for (let i = 0; i < half; i++) part = dilated(part, wide)
  const parts = connectedRegions(part, wide)
  const [dx, dy] = [region.left - margin, region.top - margin]
  const bodies = parts
    .filter(({ area }) => area >= PART * parts[0].area)
    .map(({ area, x, y, left, right, top, bottom }) => ({
      area,
      x: x + dx,
      y: y + dy,
      left: left + dx,
      right: right + dx,
      top: top + dy,
      bottom: bottom + dy,
    }))
  return bodies.length > 0 ? bodies : [region]
}

/** Calls back for each pixel of a mask that is set, with each row of the square of three around it: few pixels of a mask are set. */
function forSquares(
  mask: Uint8Array,
  width: number,
  row: (pixel: number, from: number, to: number) => void,
): void {
  for (let at = mask.indexOf(1); at >= 0; at = mask.indexOf(1, at + 1)) {
    const column = at % width
    const [left, right] = [column > 0 ? 1 : 0, column + 1 < width ? 1 : 0]
    for (let middle = at - width; middle <= at + width; middle += width)
      if (middle >= 0 && middle < mask.length) row(at, middle - left, middle + right)
  }
}

/** Returns a mask with all that is within one pixel of it. */
function dilated(mask: Uint8Array, width: number): Uint8Array {
  const wider = mask.slice()
  forSquares(mask, width, (_, from, to) => {
    for (let at = from; at <= to; at++) wider[at] = 1
  })
  return wider
}

/** Returns a mask without what is within one pixel of its edge; what lies beyond the picture is no edge. */
function eroded(mask: Uint8Array, width: number): Uint8Array {
  const narrower = mask.slice()
  forSquares(mask, width, (pixel, from, to) => {
    for (let at = from; at <= to; at++) if (mask[at] === 0) narrower[pixel] = 0
  })
  return narrower
}

/** Pixels that wait to be looked at, kept for all regions. */
let waiting = new Int32Array(2 ** 12)

/** Takes the region that a pixel belongs to out of a mask. */
function taken(mask: Uint8Array, width: number, start: number): Region {
  const last = mask.length / width - 1
  if (waiting.length < mask.length) waiting = new Int32Array(mask.length)
  waiting[0] = start
  mask[start] = 0
  let count = 1
  let [area, x, y] = [0, 0, 0]
  let [left, right, top, bottom] = [width, -1, last + 1, -1]
  while (count > 0) {
    const pixel = waiting[--count]
    const column = pixel % width
    const row = (pixel - column) / width
    area++
    x += column + 0.5
    y += row + 0.5
    if (column < left) left = column
    if (column > right) right = column
    if (row < top) top = row
    if (row > bottom) bottom = row
    for (let v = Math.max(0, row - 1); v <= Math.min(last, row + 1); v++)
      for (let u = Math.max(0, column - 1); u <= Math.min(width - 1, column + 1); u++) {
        const near = v * width + u
        if (mask[near] === 0) continue
        mask[near] = 0
        waiting[count++] = near
      }
  }
  return { x: x / area, y: y / area, area, left, right, top, bottom }
}
