import type { Patch } from './look.ts'

/** Weight of a pixel beside the body where it is not known what is behind it. */
const BESIDE = 0.12
/** A patch that lies outside the picture by more than this share is not looked for there. */
export const MOST_OUTSIDE = 0.4
/** How much brighter or darker a body can get against its look. */
export const GAIN = { least: 0.6, most: 1.6 }

/** Pixels of a patch that are compared, in a list: quicker to go through than its whole square. */
export interface Compared {
  column: Int32Array
  row: Int32Array
  cover: Float32Array
  body: Float32Array
  seen: Float32Array
  /** Weight where the background is not known; 1 where it is. */
  weight: Float32Array
  width: number
  height: number
  /** Sums of the weights, of the weighed light, and of its square. */
  total: number
  light: number
  square: number
}

/** Every other pixel does where there are more than this. */
const ENOUGH_PIXELS = 360

/** Kept by the patch: it is compared many times. */
const listed = new WeakMap<Patch, Compared>()

export function comparedOf(patch: Patch): Compared {
  const known = listed.get(patch)
  if (known) return known
  const { width, height, cover, body, seen } = patch
  const near = spreadOut(patch)
  let count = 0
  for (let at = 0; at < near.length; at++) count += near[at]
  const list: Compared = { ...blank(count), width, height, total: 0, light: 0, square: 0 }
  let [total, light, square] = [0, 0, 0]
  let k = 0
  for (let row = 0, at = 0; row < height; row++)
    for (let column = 0; column < width; column++, at++) {
      if (near[at] === 0) continue
      const weight = Math.max(BESIDE, cover[at] * cover[at])
      const own = seen[at]
      list.column[k] = column
      list.row[k] = row
      list.cover[k] = cover[at]
      list.body[k] = body[at]
      list.seen[k] = own
      list.weight[k] = weight
      total += weight
      light += weight * own
      square += weight * own * own
      k++
    }
  list.total = total
  list.light = light
  list.square = square
  listed.set(patch, list)
  return list
}

/** Room for so many pixels. */
const blank = (count: number) => ({
  column: new Int32Array(count),
  row: new Int32Array(count),
  cover: new Float32Array(count),
  body: new Float32Array(count),
  seen: new Float32Array(count),
  weight: new Float32Array(count),
})

/**
 * Which pixels of a list are enough to refine by: every other one, like the fields of a chessboard, where there are
 * many.
 */
export function enoughOf({ column, row }: Compared): Int32Array {
  const all = column.length
  const isFew = all < ENOUGH_PIXELS
  const chosen = new Int32Array(all)
  let count = 0
  for (let k = 0; k < all; k++) if (isFew || (column[k] + row[k]) % 2 === 0) chosen[count++] = k
  return chosen.subarray(0, count)
}

/** Pixels that the body covers, and those beside them: 1, all others 0. */
function spreadOut({ width, height, cover }: Patch): Uint8Array {
  const near = new Uint8Array(width * height)
  for (let row = 0, at = 0; row < height; row++)
    for (let column = 0; column < width; column++, at++) {
      if (cover[at] <= 0.03) continue
      const [left, right] = [column > 0 ? 1 : 0, column + 1 < width ? 1 : 0]
      for (let line = row > 0 ? at - width : at; line <= at + width && line < near.length; line += width)
        for (let by = line - left; by <= line + right; by++) near[by] = 1
    }
  return near
}

/** Width and height of what a body covers in its patch. */
export function bodySize({ width, height, cover }: Patch): [number, number] {
  let [left, right, top, bottom] = [width, 0, height, 0]
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++)
      if (cover[row * width + column] > 0.3) {
        left = Math.min(left, column)
        right = Math.max(right, column + 1)
        top = Math.min(top, row)
        bottom = Math.max(bottom, row + 1)
      }
  return [Math.max(1, right - left), Math.max(1, bottom - top)]
}
