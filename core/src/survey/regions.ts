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
  return [1, 0, 0, 1].reduce((done, value) => spread(done, width, value as 0 | 1), mask)
}

/** Returns a mask in which each pixel takes a value if any pixel of the square of three around it has it. */
function spread(mask: Uint8Array, width: number, value: 0 | 1): Uint8Array {
  const height = mask.length / width
  const across = mask.slice()
  for (let row = 0; row < height; row++)
    for (let at = row * width; at < (row + 1) * width; at++)
      if (mask[at] === value) {
        if (at > row * width) across[at - 1] = value
        if (at + 1 < (row + 1) * width) across[at + 1] = value
      }
  const both = across.slice()
  for (let at = 0; at < across.length; at++)
    if (across[at] === value) {
      if (at >= width) both[at - width] = value
      if (at + width < both.length) both[at + width] = value
    }
  return both
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
