import type { Point } from '../geometry/index.ts'
import { type Outline, RADII } from './outline.ts'
import { shapeOf } from './shape.ts'

/** The motion blur in an outline that was drawn around a smeared body. */
export interface Streak {
  /** The outline of the body without its smear. */
  outline: Outline
  /** Length of the smear in pixels. */
  length: number
}

/** A streak lies along the way that the body goes within so many radians, and is longer than this share of that way. */
const STREAK = { crossing: 0.35, least: 0.1 }

/**
 * Tells the smear of a body from its outline, once the way that it goes from frame to frame is known: what is longer along
 * that way than across it, and not longer than the way itself, is taken for a smear. Each point of the outline is drawn in
 * along the way by half of it, which undoes the sweep of a convex shape.
 *
 * @param step way from one frame to the next in pixels, as the body moved where the outline was drawn
 * @returns null if the outline is round, or is long in another direction
 */
export function streakOf(outline: Outline, step: Point): Streak | null {
  const way = Math.hypot(step.x, step.y)
  const { axis, middle } = shapeOf(outline)
  if (axis === null || way === 0) return null
  const crossing = axis - Math.atan2(step.y, step.x)
  if (Math.abs(crossing - Math.PI * Math.round(crossing / Math.PI)) > STREAK.crossing) return null
  const [cos, sin] = [step.x / way, step.y / way]
  const { radii } = outline
  const points = radii.map((radius, i) => {
    const angle = (2 * Math.PI * i) / radii.length
    const [x, y] = [radius * Math.cos(angle) - middle.x, radius * Math.sin(angle) - middle.y]
    return { along: cos * x + sin * y, across: cos * y - sin * x }
  })
  const extent = (values: number[]) => Math.max(...values) - Math.min(...values)
  const length = extent(points.map(({ along }) => along)) - extent(points.map(({ across }) => across))
  if (length < STREAK.least * way || length > way) return null
  const drawnIn = points.map(({ along, across }) => {
    const u = Math.sign(along) * Math.max(0, Math.abs(along) - length / 2)
    return { x: middle.x + cos * u - sin * across, y: middle.y + sin * u + cos * across }
  })
  return { outline: outlineThrough(drawnIn, radii.length), length }
}

/** Returns the outline through points around the middle, in any order, in so many directions. */
function outlineThrough(points: readonly Point[], directions: number): Outline {
  const around = points
    .map(({ x, y }) => ({ angle: Math.atan2(y, x), radius: Math.hypot(x, y) }))
    .sort((a, b) => a.angle - b.angle)
  const radii = Array.from({ length: directions }, (_, i) => {
    const angle = Math.atan2(
      Math.sin((2 * Math.PI * i) / directions),
      Math.cos((2 * Math.PI * i) / directions),
    )
    const next = around.findIndex((one) => one.angle >= angle)
    const after = around[next === -1 ? 0 : next]
    const before = around.at((next === -1 ? 0 : next) - 1)!
    const turn = (from: number, to: number) => (to - from + 4 * Math.PI) % (2 * Math.PI)
    const gap = turn(before.angle, after.angle)
    const share = gap > 0 ? turn(before.angle, angle) / gap : 0
    const radius = before.radius + share * (after.radius - before.radius)
    return Math.min(RADII.most, Math.max(RADII.least, radius))
  })
  return { radii }
}
