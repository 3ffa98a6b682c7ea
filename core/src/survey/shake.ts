import { median } from '../time/index.ts'
import type { Luma } from './luma.ts'

const BLOCK = 24
/** Blocks with less texture say nothing about a shift: mean square of the gradient along both directions. */
const LEAST_TEXTURE = 12

/**
 * How far the background of a picture is shifted against another, in small pixels: the median over
 * textured blocks of each block's least-squares shift (one step of Lucas and Kanade 1981), so that what
 * moves in front does not count. Null where there is too little texture. Good for shifts of about a pixel.
 */
export function backgroundShift(reference: Luma, frame: Luma): { x: number; y: number } | null {
  const { width, height } = reference
  const shifts: { x: number[]; y: number[] } = { x: [], y: [] }
  for (let top = 1; top + BLOCK < height; top += BLOCK)
    for (let left = 1; left + BLOCK < width; left += BLOCK) {
      let xx = 0
      let xy = 0
      let yy = 0
      let xt = 0
      let yt = 0
      for (let y = top; y < top + BLOCK; y++)
        for (let x = left; x < left + BLOCK; x++) {
          const at = y * width + x
          const gx = (reference.data[at + 1] - reference.data[at - 1]) / 2
          const gy = (reference.data[at + width] - reference.data[at - width]) / 2
          const change = frame.data[at] - reference.data[at]
          xx += gx * gx
          xy += gx * gy
          yy += gy * gy
          xt += gx * change
          yt += gy * change
        }
      const area = BLOCK * BLOCK
      const determinant = xx * yy - xy * xy
      // The smaller eigenvalue must be large: an edge alone leaves the shift along it open.
      const smaller = (xx + yy) / 2 - Math.sqrt(((xx - yy) / 2) ** 2 + xy * xy)
      if (smaller / area < LEAST_TEXTURE) continue
      shifts.x.push((xy * yt - yy * xt) / determinant)
      shifts.y.push((xy * xt - xx * yt) / determinant)
    }
  if (shifts.x.length < 6) return null
  return { x: median(shifts.x), y: median(shifts.y) }
}
