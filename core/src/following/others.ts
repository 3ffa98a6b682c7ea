import type { Point } from '../geometry/index.ts'

/** Another body that is followed in the same frame: where it is, or is expected, and how large it is. */
export interface Other extends Point {
  /** Half its width, in pixels. */
  size: number
}

/** How much farther a body is looked for a second time in the same frame. */
export const WIDENED = 2.2
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

/**
 * Puts bodies together that can come into each other's place in a frame: they have to be looked for one after the
 * other. Bodies of different groups don't touch each other's search, whatever is found of them.
 *
 * @param reaches where each is expected in the frame, how far around it is looked, and half its width
 * @returns places in the list, group by group, each in the list's order
 */
export function searchGroups(reaches: readonly (Other & { radius: number })[]): number[][] {
  const groups: number[][] = []
  reaches.forEach((one, i) => {
    const touches = ({ x, y, radius, size }: Other & { radius: number }) =>
      Math.hypot(x - one.x, y - one.y) <= WIDENED * (radius + one.radius) + Math.max(size, one.size)
    const joined = groups.filter((group) => group.some((k) => touches(reaches[k])))
    for (const group of joined) groups.splice(groups.indexOf(group), 1)
    groups.push([...joined.flat(), i].sort((a, b) => a - b))
  })
  return groups
}
