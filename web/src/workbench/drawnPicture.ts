import type { Rect } from '@apokinema/core/following'
import type { Orientation } from '@apokinema/core/investigation'
import { type Luma, lumaOfColours } from '@apokinema/core/survey'
import { drawTurned } from '../footage/clip.ts'

/** The picture on the stage as last drawn. */
export interface DrawnPicture {
  frame: number
  image: ImageBitmap
  /** Size of the footage's pictures in pixels, before they are turned. */
  facts: { width: number; height: number }
  orientation: Orientation
  /** CSS pixels of the screen per pixel of the picture. */
  zoom: number
}

let drawn: DrawnPicture | null = null

/** Sets what the stage shows; null when it is closed. */
export function noteDrawn(picture: DrawnPicture | null): void {
  drawn = picture
}

/** Returns what the stage shows; null when it is closed. */
export const drawnPicture = (): DrawnPicture | null => drawn

/** Returns the brightness in a rectangle of a drawn picture, given in pixels of the footage. */
export function drawnLuma({ image, facts, orientation }: DrawnPicture, { x, y, width, height }: Rect): Luma {
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!
  context.translate(-x, -y)
  drawTurned(context, image, facts, orientation)
  const { data } = context.getImageData(0, 0, width, height)
  return lumaOfColours(data, width, height)
}
