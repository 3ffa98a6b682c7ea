import { overlap, type Rect } from '@apokinema/core/following'
import type { Orientation } from '@apokinema/core/investigation'
import type { ColourPicture } from '@apokinema/core/pictures'
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

/** Returns the pixels in a rectangle of a drawn picture, both in pixels of the upright picture. */
function pixelsIn({ image, facts, orientation }: DrawnPicture, { x, y, width, height }: Rect) {
  const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!
  context.translate(-x, -y)
  drawTurned(context, image, facts, orientation)
  return context.getImageData(0, 0, width, height).data
}

/** Returns the rectangle of a whole drawn picture, turned as it is shown. */
export function pictureRect({ facts, orientation }: DrawnPicture): Rect {
  const isLying = orientation.quarterTurns % 2 === 1
  const [width, height] = isLying ? [facts.height, facts.width] : [facts.width, facts.height]
  return { x: 0, y: 0, width, height }
}

/** Returns the brightness in a rectangle of a drawn picture. */
export function drawnLuma(picture: DrawnPicture, rect: Rect): Luma {
  return lumaOfColours(pixelsIn(picture, rect), rect.width, rect.height)
}

/** Returns the colours in that part of a rectangle that lies in a drawn picture; null if none does. */
export function drawnColours(picture: DrawnPicture, rect: Rect): ColourPicture | null {
  const part = overlap(rect, pictureRect(picture))
  if (part.width < 2 || part.height < 2) return null
  return { ...part, data: pixelsIn(picture, part) }
}
