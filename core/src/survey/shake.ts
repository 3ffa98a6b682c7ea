import type { Point } from '../geometry/index.ts'
import { median } from '../time/index.ts'
import type { Luma } from './luma.ts'

const BLOCK = 24
/** With fewer textured blocks no shift of the whole picture is computed. */
export const LEAST_BLOCKS = 6
/** Blocks with less texture say nothing about a shift: mean square of the gradient along both directions. */
const LEAST_TEXTURE = 12

/** Displacement of the content of one block, given by its centre. */
export interface BlockShift {
  at: Point
  by: Point
}

/**
 * Returns how far what each textured block of a picture shows has moved in another, in small pixels: its
 * least-squares shift (one step of Lucas and Kanade 1981). Good for shifts of about a pixel.
 */
export function blockShifts(reference: Luma, frame: Luma): BlockShift[] {
  const { width, height } = reference
  const shifts: BlockShift[] = []
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
      shifts.push({
        at: { x: left + BLOCK / 2, y: top + BLOCK / 2 },
        by: { x: (xy * yt - yy * xt) / determinant, y: (xy * xt - xx * yt) / determinant },
      })
    }
  return shifts
}

/**
 * Returns how far the background of a picture is shifted against another, in small pixels: the median over its
 * textured blocks, so that what moves in front does not count. Null where there is too little texture.
 */
export function backgroundShift(reference: Luma, frame: Luma): Point | null {
  const shifts = blockShifts(reference, frame)
  if (shifts.length < LEAST_BLOCKS) return null
  return { x: median(shifts.map(({ by }) => by.x)), y: median(shifts.map(({ by }) => by.y)) }
}
