import { type Point, smallerEigenvalue } from '../geometry/index.ts'
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

/** Means over the pixels of a block, of the gradient in the reference and of the change from it to another picture. */
export interface BlockMoments {
  /** Centre of the block. */
  at: Point
  /** Of the products of the gradient along x and y. */
  xx: number
  xy: number
  yy: number
  /** Of the products of the gradient and the change. */
  xt: number
  yt: number
  /** Of the change and of its square. */
  change: number
  squared: number
}

/** Returns the moments of all blocks of a picture and another one. */
export function blockMoments(reference: Luma, frame: Luma): BlockMoments[] {
  const { width, height } = reference
  const area = BLOCK * BLOCK
  const blocks: BlockMoments[] = []
  for (let top = 1; top + BLOCK < height; top += BLOCK)
    for (let left = 1; left + BLOCK < width; left += BLOCK) {
      let [xx, xy, yy] = [0, 0, 0]
      let [xt, yt, sum, squares] = [0, 0, 0, 0]
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
          sum += change
          squares += change * change
        }
      blocks.push({
        at: { x: left + BLOCK / 2, y: top + BLOCK / 2 },
        xx: xx / area,
        xy: xy / area,
        yy: yy / area,
        xt: xt / area,
        yt: yt / area,
        change: sum / area,
        squared: squares / area,
      })
    }
  return blocks
}

/**
 * Returns how far what each textured block of a picture shows has moved in another, in small pixels: its
 * least-squares shift (one step of Lucas and Kanade 1981). Good for shifts of about a pixel.
 */
export function blockShifts(reference: Luma, frame: Luma): BlockShift[] {
  return blockMoments(reference, frame).flatMap(({ at, xx, xy, yy, xt, yt }) => {
    // The smaller eigenvalue must be large: an edge alone leaves the shift along it open.
    if (smallerEigenvalue(xx, xy, yy) < LEAST_TEXTURE) return []
    const determinant = xx * yy - xy * xy
    return [{ at, by: { x: (xy * yt - yy * xt) / determinant, y: (xy * xt - xx * yt) / determinant } }]
  })
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
