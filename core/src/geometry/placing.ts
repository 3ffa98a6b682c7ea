import { distance, type Point } from './points.ts'

/** A point that a person has placed in the picture. */
export interface PlacedByHand extends Point {
  /** Standard error along each direction, in pixels of the picture; absent: `USUAL_PLACING`. */
  error?: number
}

/** Standard error, in pixels, with which a careful person locates a feature in a sharp picture. */
export const USUAL_PLACING = 0.5

/** Standard error of pointing, in CSS pixels of the screen. A finger moves the reticle less finely than a mouse. */
const POINTING = { mouse: 0.5, touch: 1 }

/** Share of an edge's width by which people disagree on where it is. */
const SHARE_OF_EDGE = 0.25

/** How a point was placed: by a pointer, or by keys that move it in quarter pixels under the loupe. */
export type PlacingTool = keyof typeof POINTING | 'keys'

/**
 * Returns the standard error, along each direction and in pixels of the picture, of a point that a person has placed. Seeing and
 * pointing are independent. Pointing is limited by the screen, so a picture that is shown small is pointed at coarsely.
 *
 * @param zoom  CSS pixels of the screen per pixel of the picture
 * @param width of the edges around the point, in pixels (`edgeWidth`); NaN where there is none to measure
 */
export function placingError(tool: PlacingTool, zoom: number, width: number): number {
  const seeing = width > 0 ? Math.max(USUAL_PLACING, SHARE_OF_EDGE * width) : USUAL_PLACING
  return tool === 'keys' ? seeing : Math.hypot(seeing, POINTING[tool] / zoom)
}

/** Returns the standard error of a placed point per axis, in pixels. */
export const placingErrorOf = ({ error }: PlacedByHand): number => error ?? USUAL_PLACING

/** Returns the coordinates of a placed point alone. */
export const placeOf = ({ x, y, error }: PlacedByHand): PlacedByHand =>
  error === undefined ? { x, y } : { x, y, error }

/** Returns the root mean square of the placing errors of several points, in pixels. */
export function meanPlacingError(points: readonly PlacedByHand[]): number {
  const square = points.reduce((sum, point) => sum + placingErrorOf(point) ** 2, 0)
  return Math.sqrt(square / points.length)
}

/**
 * Returns the standard error of the direction of a line through two placed points, in radians: √(σ₁² + σ₂²) over their distance,
 * since only the errors across the line count. It is also the relative standard error of their distance, for which only
 * the errors along the line count.
 */
export function lineError([a, b]: readonly [PlacedByHand, PlacedByHand], apart = distance(a, b)): number {
  return Math.hypot(placingErrorOf(a), placingErrorOf(b)) / apart
}
