import { type PlacedByHand, type PlacingTool, type Point, placingError } from '@apokinema/core/geometry'
import type { Orientation } from '@apokinema/core/investigation'
import { edgeWidthAround, lumaOfColours } from '@apokinema/core/survey'
import { drawTurned } from '../footage/clip.ts'

/** The picture on the stage as it was last drawn. */
interface DrawnPicture {
  image: ImageBitmap
  /** Size of the footage's pictures in pixels, before they are turned. */
  facts: { width: number; height: number }
  orientation: Orientation
  /** CSS pixels of the screen per pixel of the picture. */
  zoom: number
}

/** Side in pixels of the square around a placed point in which edges are measured. */
const AROUND = 25

let drawn: DrawnPicture | null = null

/** Notes what the stage shows; null when it is closed. */
export function noteDrawn(picture: DrawnPicture | null): void {
  drawn = picture
}

/** A point with the standard error that it has where it was placed so on the picture that the stage shows. */
export function placedBy(tool: PlacingTool, { x, y }: Point): PlacedByHand {
  if (!drawn) return { x, y }
  const error = placingError(tool, drawn.zoom, edgeWidthAt(drawn, { x, y }))
  return { x, y, error: Number(error.toFixed(2)) }
}

/** Width of the edges around a point in pixels; NaN where there are none, or the picture is not there in full size. */
function edgeWidthAt({ image, facts, orientation }: DrawnPicture, { x, y }: Point): number {
  if (image.width !== facts.width) return Number.NaN
  const context = new OffscreenCanvas(AROUND, AROUND).getContext('2d', { willReadFrequently: true })!
  context.translate(AROUND / 2 - x, AROUND / 2 - y)
  drawTurned(context, image, facts, orientation)
  const { data } = context.getImageData(0, 0, AROUND, AROUND)
  return edgeWidthAround(lumaOfColours(data, AROUND, AROUND))
}
