import type { Point } from '../geometry/index.ts'

/** Another body that is followed in the same frame: where it is, or is expected, and its half width. */
export interface Other extends Point {
  /** Half its width, in pixels. */
  size: number
}

/** Factor by which the reach grows for a second search in the same frame. */
export const WIDENED = 2.2
/** A place within this share of another body's half width is that body's. */
const ITS_OWN = 0.7

/**
 * Returns true if a place belongs to another body: it lies well inside that one, and nearer to its middle than to the
 * prediction. So a body that passes in front of another is still found.
 */
export function isTaken(place: Point, expected: Point, others: readonly Other[]): boolean {
  const off = Math.hypot(place.x - expected.x, place.y - expected.y)
  return others.some(({ x, y, size }) => {
    const away = Math.hypot(place.x - x, place.y - y)
    return away < ITS_OWN * size && away < off
  })
}

/**
 * Groups bodies that can occupy each other's place in a frame: they have to be searched for one after the other.
 * Bodies of different groups don't affect each other's search.
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
