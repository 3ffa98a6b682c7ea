import type { Point } from '../geometry/index.ts'
import type { Background } from './background.ts'
import { differencesAt, gainOf } from './difference.ts'
import { type Grid, gridLike, gridOf, type Plane, rectAround, roughValueAt } from './grid.ts'

/**
 * Outline of a body around the point that was clicked: how far it goes from there in so many directions,
 * evenly spread from the picture's right towards down, in pixels.
 */
export interface Outline {
  radii: number[]
}

/** Directions that an outline is known in. */
export const DIRECTIONS = 24
/** Smallest and largest radius in pixels. */
export const RADII = { least: 2, most: 160 }
/** How far from a click a border is looked for. */
const LONGEST = 90

/** Why a place can't be followed; `outlines.ts` in `words` has the sentences. */
export interface OutlineProblem {
  code: 'outside-picture' | 'no-contrast' | 'too-few-pixels' | 'same-colour-around'
}

/** Thrown for a place that can't be followed. */
export class OutlineError extends Error {
  constructor(readonly problem: OutlineProblem) {
    super(problem.code)
  }
}

/** Less contrast than this between a body and what is around it can't be told from noise. */
const LEAST_CONTRAST = 5
/** A border that stands out more than this is as good as any: a stripe on the body must not outdo its rim. */
const CLEAR_CONTRAST = 28
/** Directions that a border is looked for in. */
const RAYS = 48
/** What a border loses, in steps of brightness, for each pixel that it goes in or out from ray to ray. */
const BEND = 2.2
/** What it gains for each pixel out to a small size, and loses for each beyond: something on a body is not the body. */
const SIZE = { typical: 12, gain: 0.7, loss: 0.08 }
/** What a border gains for each pixel on its ray that moves, and loses for each that does not. */
const MOVING = 7
/** Share of the strongest difference from the background at which a pixel counts as moving as much as not. */
const HALF_MOVING = 0.14
/** Pixels that a border goes in or out at most from ray to ray. */
const STEEPEST = 5

/** Returns a circular outline. */
export function roundOutline(radius: number): Outline {
  const clamped = Math.min(RADII.most, Math.max(RADII.least, radius))
  return { radii: Array.from({ length: DIRECTIONS }, () => clamped) }
}

/** Returns the radius of an outline in a direction, in radians from the picture's right towards down. */
export function radiusAt({ radii }: Outline, direction: number): number {
  const turns = direction / (2 * Math.PI)
  const place = (turns - Math.floor(turns)) * radii.length
  const before = Math.floor(place) % radii.length
  const share = place - Math.floor(place)
  return radii[before] * (1 - share) + radii[(before + 1) % radii.length] * share
}

/** Farther than this from an outline, in pixels, it no longer matters how far exactly. */
const CLOSE = 2

/** Returns how far within an outline points lie, told from its middle; beyond two pixels from it only that it is more. */
export function depthIn(outline: Outline): (x: number, y: number) => number {
  const least = Math.min(...outline.radii)
  const most = Math.max(...outline.radii)
  return (x, y) => {
    const away = Math.sqrt(x * x + y * y)
    if (away > most + CLOSE) return most - away
    if (away < least - CLOSE) return least - away
    return radiusAt(outline, Math.atan2(y, x)) - away
  }
}

/** Returns an outline with one direction drawn out or in, and its neighbours a little along with it. */
export function pulledOutline({ radii }: Outline, direction: number, radius: number): Outline {
  const by = radius - radii[direction]
  return {
    radii: radii.map((old, i) => {
      const apart = Math.min(Math.abs(i - direction), radii.length - Math.abs(i - direction))
      const pulled = old + by * Math.exp(-0.5 * (apart / 1.6) ** 2)
      return Math.min(RADII.most, Math.max(RADII.least, pulled))
    }),
  }
}

/** Returns the same closed line relative to another point of the body; null if that point lies outside. */
export function recentredOutline(outline: Outline, by: Point): Outline | null {
  const { radii } = outline
  const isInside = Math.hypot(by.x, by.y) < radiusAt(outline, Math.atan2(by.y, by.x))
  if (!isInside) return null
  return {
    radii: radii.map((_, i) => {
      const angle = (2 * Math.PI * i) / radii.length
      // The ray from the new point meets the line where it is just as far from the old one as the line is.
      let [low, high] = [0, 2 * RADII.most]
      for (let halving = 0; halving < 30; halving++) {
        const middle = (low + high) / 2
        const x = by.x + middle * Math.cos(angle)
        const y = by.y + middle * Math.sin(angle)
        if (Math.hypot(x, y) < radiusAt(outline, Math.atan2(y, x))) low = middle
        else high = middle
      }
      return Math.min(RADII.most, Math.max(RADII.least, low))
    }),
  }
}

/** Returns the outline at scale 1 and turn 0 of a body whose outline at a pose is known. */
export function unposed(outline: Outline, { scale, turn }: { scale: number; turn: number }): Outline {
  return {
    radii: outline.radii.map(
      (_, i) => radiusAt(outline, (2 * Math.PI * i) / outline.radii.length + turn) / scale,
    ),
  }
}

/** Returns the points of an outline in its directions, relative to its point. */
export const cornersOf = ({ radii }: Outline): Point[] =>
  radii.map((radius, i) => {
    const angle = (2 * Math.PI * i) / radii.length
    return { x: radius * Math.cos(angle), y: radius * Math.sin(angle) }
  })

/** Returns the area within an outline in square pixels, and its centroid relative to its point. */
function momentsOf(outline: Outline): { area: number; centroid: Point } {
  const corners = cornersOf(outline)
  const sum = { area: 0, x: 0, y: 0 }
  corners.forEach((corner, i) => {
    const next = corners[(i + 1) % corners.length]
    const cross = corner.x * next.y - next.x * corner.y
    sum.area += cross / 2
    sum.x += ((corner.x + next.x) * cross) / 6
    sum.y += ((corner.y + next.y) * cross) / 6
  })
  return { area: sum.area, centroid: { x: sum.x / sum.area, y: sum.y / sum.area } }
}

/** Returns the centroid of the area within an outline, relative to its point. */
export const centroidOf = (outline: Outline): Point => momentsOf(outline).centroid

/**
 * Returns where a body that is seen from above at an angle touches what it stands on, relative to its outline's point: the
 * lowest point of the outline, just inside it.
 */
export function footOf({ radii }: Outline): Point {
  const inside = cornersOf({ radii: radii.map((radius) => Math.max(0, radius - RADII.least)) })
  return inside.reduce((lowest, corner) => (corner.y > lowest.y ? corner : lowest))
}

/** Returns the area within an outline in square pixels. */
export const outlineArea = (outline: Outline): number => momentsOf(outline).area

/** Returns the mean radius of an outline in pixels. */
export function sizeOf({ radii }: Outline): number {
  return radii.reduce((sum, radius) => sum + radius, 0) / radii.length
}

/**
 * Grows the outline of whatever was clicked: of all closed lines around the click, the one along which
 * brightness changes most, found by dynamic programming in polar coordinates (Timp and Karssemeijer, Medical
 * Physics 31 (2004) 958). Where the background is known, what belongs to it does not count.
 *
 * @param plane of the frame around the click, as far as a body can reach
 * @throws OutlineError where nothing stands out there
 */
export function grownOutline(plane: Plane, at: Point, background: Background | null): Outline {
  const grid = gridOf(plane)
  if (at.x < grid.x || at.y < grid.y || at.x >= grid.x + grid.width || at.y >= grid.y + grid.height)
    throw new OutlineError({ code: 'outside-picture' })
  const border = (background && movingBorder(plane, at, background)) ?? borderIn(grid, at, null)
  if (!border) throw new OutlineError({ code: 'no-contrast' })
  const radii = Array.from({ length: DIRECTIONS }, (_, i) => {
    const [before, own, after] = [-1, 0, 1].map((step) => border[(2 * i + step + RAYS) % RAYS])
    return Math.min(RADII.most, Math.max(RADII.least, (before + 2 * own + after) / 4))
  })
  return { radii }
}

/**
 * Returns the best border around a click: what moves is inside it, where the noise of a frame without its background is
 * given; otherwise by contrast and size alone. Null where nothing stands out: a body that rests is background.
 */
function borderIn(lit: Grid, at: Point, noise: number | null): number[] | null {
  const contrasts = contrastsAround(lit, at)
  const border = bestBorder(noise === null ? sizeWorths(contrasts) : movingWorths(lit, contrasts, at, noise))
  const mean = border.reduce((sum, radius, ray) => sum + contrasts[ray][radius], 0) / RAYS
  return mean < LEAST_CONTRAST ? null : border
}

/** A border from which a shadow was left out is taken if it is less asymmetric than the other by this factor. */
const MORE_SYMMETRIC = 0.6
/** Asymmetry up to which a border is taken to be that of a body alone. */
const SYMMETRIC = 0.1

/**
 * Returns the border of what differs from a background around a click, without the shadow that it may throw; null where the
 * background is not known, or nothing stands out.
 */
function movingBorder(plane: Plane, at: Point, background: Background): number[] | null {
  const gain = gainOf(plane, background)
  const { plain, shadowless } = differencesAt(plane, background, gain, at)
  const borderOf = (difference: Grid) => {
    const lit = gridLike(
      difference,
      difference.data.map((value) => value * background.noise),
    )
    return isMostlyKnown(lit, at) ? borderIn(lit, at, background.noise) : null
  }
  const whole = borderOf(plain)
  if (!whole || !shadowless || asymmetry(whole) < SYMMETRIC) return whole
  // Dark parts of a pattern look like shadows, too: but things are more symmetric than things with their shadows.
  const withoutShadow = borderOf(shadowless)
  return withoutShadow && asymmetry(withoutShadow) < MORE_SYMMETRIC * asymmetry(whole) ? withoutShadow : whole
}

/** Returns the mean difference between opposite radii of a border, as a share of their mean. */
function asymmetry(border: number[]): number {
  const half = border.length / 2
  const difference = border.reduce(
    (sum, radius, i) => sum + Math.abs(radius - border[(i + half) % border.length]),
    0,
  )
  return difference / border.reduce((sum, radius) => sum + radius, 0)
}

/** Returns true if it is known what is behind most of what is near a click. */
function isMostlyKnown(lit: Grid, at: Point): boolean {
  let [known, all] = [0, 0]
  for (let ray = 0; ray < RAYS; ray++)
    for (let radius = 2; radius < 40; radius += 4, all++)
      if (!Number.isNaN(differenceAt(lit, at, ray, radius))) known++
  return known > 0.7 * all
}

/** Returns by how much a point at a radius of a ray differs from the background; NaN where that is not known. */
function differenceAt(lit: Grid, at: Point, ray: number, radius: number): number {
  const angle = (2 * Math.PI * ray) / RAYS
  return Math.abs(lightAt(lit, at.x + radius * Math.cos(angle), at.y + radius * Math.sin(angle)))
}

/** Returns what a border at each radius of each ray is worth by its contrast and its size alone. */
function sizeWorths(contrasts: Float32Array[]): Float32Array[] {
  const { typical, gain, loss } = SIZE
  return contrasts.map((ray) =>
    ray.map(
      (contrast, radius) =>
        contrast + gain * Math.min(radius, typical) - loss * Math.max(0, radius - typical),
    ),
  )
}

/** Returns what a border is worth where the background is known: what moves is to be inside, what does not outside. */
function movingWorths(lit: Grid, contrasts: Float32Array[], at: Point, noise: number): Float32Array[] {
  const near = Array.from({ length: RAYS }, (_, ray) => differenceAt(lit, at, ray, 3)).sort((a, b) => a - b)
  const half = Math.max(4 * noise, HALF_MOVING * Math.min(CLEAR_CONTRAST * 2, near[Math.floor(0.75 * RAYS)]))
  return contrasts.map((contrast, ray) => {
    let sum = 0
    return contrast.map((change, radius) => {
      const difference = differenceAt(lit, at, ray, radius)
      // Where it is not known what is behind, what is further in speaks for it.
      if (!Number.isNaN(difference)) sum += difference > half ? 1 : -1
      return 0.4 * change + MOVING * sum
    })
  })
}

/** Returns how much brightness changes across each radius of each ray, two pixels inside against two outside; 0 beyond the picture. */
function contrastsAround(grid: Grid, at: Point): Float32Array[] {
  return Array.from({ length: RAYS }, (_, ray) => {
    const angle = (2 * Math.PI * ray) / RAYS
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)]
    const lights = Float32Array.from({ length: LONGEST + 3 }, (_, way) =>
      lightAt(grid, at.x + way * cos, at.y + way * sin),
    )
    return Float32Array.from({ length: LONGEST }, (_, radius) => {
      if (radius < RADII.least) return 0
      const change = lights[radius + 1] + lights[radius + 2] - lights[radius - 1] - lights[radius - 2]
      return Number.isNaN(change) ? 0 : Math.min(CLEAR_CONTRAST, Math.abs(change) / 2)
    })
  })
}

/** Light at a point, NaN outside. */
function lightAt(grid: Grid, x: number, y: number): number {
  const isInside =
    x > grid.x + 1 && y > grid.y + 1 && x < grid.x + grid.width - 1 && y < grid.y + grid.height - 1
  return isInside ? roughValueAt(grid, x, y) : Number.NaN
}

/**
 * Returns the closed border with the most contrast: the best way over the rays goes round twice, and the second round,
 * by when it has closed, is taken.
 */
function bestBorder(contrasts: Float32Array[]): number[] {
  const length = contrasts[0].length
  const from: Int16Array[] = []
  let worth = new Float32Array(length)
  for (let step = 0; step < 3 * RAYS; step++) {
    const contrast = contrasts[step % RAYS]
    const next = new Float32Array(length).fill(Number.NEGATIVE_INFINITY)
    const came = new Int16Array(length)
    for (let radius = RADII.least; radius < length; radius++)
      for (let bend = -STEEPEST; bend <= STEEPEST; bend++) {
        const before = radius - bend
        if (before < RADII.least || before >= length) continue
        const sum = worth[before] + contrast[radius] - BEND * Math.abs(bend)
        if (sum > next[radius]) {
          next[radius] = sum
          came[radius] = before
        }
      }
    from.push(came)
    worth = next
  }
  let radius = worth.reduce((best, value, at) => (value > worth[best] ? at : best), RADII.least)
  const border: number[] = []
  for (let step = 3 * RAYS - 1; step >= RAYS; step--) {
    if (step < 2 * RAYS) border[step - RAYS] = radius
    radius = from[step][radius]
  }
  return border
}

/** Returns the rectangle of a frame that is needed to grow an outline around a click. */
export function outlineReach(at: Point): ReturnType<typeof rectAround> {
  return rectAround(at, { x: LONGEST + 4, y: LONGEST + 4 }, 2)
}
