import { type PlacedByHand, type PlacingTool, type Point, placingError } from '@apokinema/core/geometry'
import { edgeWidthAround } from '@apokinema/core/survey'
import { type DrawnPicture, drawnLuma, drawnPicture } from './drawnPicture.ts'

/** Side in pixels of the square around a placed point in which edges are measured. */
const AROUND = 25

/** Returns a point with its placing error, estimated from the displayed picture. */
export function placedBy(tool: PlacingTool, { x, y }: Point): PlacedByHand {
  const drawn = drawnPicture()
  if (!drawn) return { x, y }
  const error = placingError(tool, drawn.zoom, edgeWidthAt(drawn, { x, y }))
  return { x, y, error: Number(error.toFixed(2)) }
}

/** Returns the width of the edges around a point in pixels; NaN if there are none, or the picture is not at full resolution. */
function edgeWidthAt(drawn: DrawnPicture, { x, y }: Point): number {
  if (drawn.image.width !== drawn.facts.width) return Number.NaN
  const square = { x: x - AROUND / 2, y: y - AROUND / 2, width: AROUND, height: AROUND }
  return edgeWidthAround(drawnLuma(drawn, square))
}
