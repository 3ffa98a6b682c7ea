import { distance, type Point } from '../geometry/index.ts'
import { type Grid, gridOf, type Plane, roughValueAt } from './grid.ts'
import { centroidOf, grownOutline, type Outline, OutlineError, sizeOf } from './outline.ts'

/** Outlines that are grown, each from the centre of the one before, until the centre stays where it is. */
const MOST_ROUNDS = 8
/** It stays where it is if it moves less far, in pixels. */
const STAYS = 0.15

/**
 * Returns the centre of the body around a click: the centroid of its outline, grown anew from there until it stays. Null where nothing
 * stands out, where the centre does not come to rest, where the outline is not clear, and where the centre lies outside what was clicked.
 *
 * @param plane of the frame around the click, `outlineReach`
 */
export function settledCentre(plane: Plane, at: Point): Point | null {
  const grid = gridOf(plane)
  let place = at
  try {
    for (let round = 0; round < MOST_ROUNDS; round++) {
      const outline = sharpened(grownOutline(plane, place, null), grid, place)
      if (!outline) return null
      const moved = centroidOf(outline)
      place = { x: place.x + moved.x, y: place.y + moved.y }
      if (Math.hypot(moved.x, moved.y) < STAYS) return distance(place, at) <= sizeOf(outline) ? place : null
    }
    return null
  } catch (error) {
    if (error instanceof OutlineError) return null
    throw error
  }
}

/** Pixels to each side of an outline within which the steepest change along a ray is looked for, and the step between samples. */
const BESIDE = 4
const STEP = 0.5
/** An outline is clear if brightness changes on this share of its rays by this share of what it does on half of them, and goes evenly round. */
const CLEAR = { rays: 0.85, change: 0.4 }
/** Largest difference of neighbouring radii of a clear outline, as a share of the radius and in pixels. */
const EVEN = { share: 0.2, pixels: 1.5 }

/**
 * Returns an outline whose radii are where brightness changes most along each ray, between the samples by a parabola; null if it is
 * not clear.
 */
function sharpened({ radii }: Outline, grid: Grid, around: Point): Outline | null {
  const rays = radii.map((radius, i) => {
    const angle = (2 * Math.PI * i) / radii.length
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
    const valueAt = (r: number) => roughValueAt(grid, around.x + r * cos, around.y + r * sin)
    const changeAt = (r: number) => Math.abs(valueAt(r + 1) - valueAt(r - 1))
    let best = radius
    for (let r = Math.max(1, radius - BESIDE); r <= radius + BESIDE; r += STEP)
      if (changeAt(r) > changeAt(best)) best = r
    const [before, here, after] = [-STEP, 0, STEP].map((by) => changeAt(best + by))
    const bend = before - 2 * here + after
    return { radius: bend < 0 ? best + (STEP * 0.5 * (before - after)) / bend : best, change: here }
  })
  const usual = rays.map(({ change }) => change).sort((a, b) => a - b)[rays.length >> 1]
  const clear = rays.filter(({ change }) => change >= CLEAR.change * usual).length
  const isEven = rays.every(({ radius }, i) => {
    const next = rays[(i + 1) % rays.length].radius
    return Math.abs(next - radius) <= Math.max(EVEN.pixels, EVEN.share * Math.min(radius, next))
  })
  return clear >= CLEAR.rays * rays.length && isEven ? { radii: rays.map(({ radius }) => radius) } : null
}
