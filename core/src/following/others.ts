import type { Point } from '../geometry/index.ts'

/** Another body that is followed in the same frame: where it is, or is expected, and how large it is. */
export interface Other extends Point {
  /** Half its width, in pixels. */
  size: number
}

/** A place within this share of another body's half width is that body's. */
const ITS_OWN = 0.7

/**
 * Whether a place is another body's: it lies well inside it, and nearer to its middle than to where the body that is
 * looked for is expected. So a body that passes in front of another is still found.
 */
export function isTaken(place: Point, expected: Point, others: readonly Other[]): boolean {
  const off = Math.hypot(place.x - expected.x, place.y - expected.y)
  return others.some(({ x, y, size }) => {
    const away = Math.hypot(place.x - x, place.y - y)
    return away < ITS_OWN * size && away < off
  })
}
