import { type Outline, roundOutline } from '../following/index.ts'
import { median } from '../time/index.ts'
import type { Sighting } from './moverTracks.ts'
import { type Region, sizeOf } from './regions.ts'

/** Where a mover is seen best, and its outline there. */

/** Costs of a sighting for where a body is seen best: at the beginning or the end, and with something else within its size. */
const BEST = { ends: 1.5, near: 1, least: 0.1 }
/**
 * Returns the sighting in which a body is seen best: of its usual size, slow (sizes of the body for each picture), with nothing else
 * that moves near it, and far from the beginning and the end, where a hand may hold it and something may cover it.
 */
export function bestSighting(
  sightings: readonly Sighting[],
  regions: readonly (readonly Region[])[],
): Sighting {
  const typical = median(sightings.map(({ area }) => area))
  const cost = (i: number) => {
    const [before, one, after] = [sightings[i - 1], sightings[i], sightings[i + 1]]
    const speed = Math.hypot(after.x - before.x, after.y - before.y) / (after.at - before.at)
    const fromMiddle = (2 * i) / (sightings.length - 1) - 1
    const isAlone = !regions[one.at].some((other) => isNear(one, other))
    return (
      Math.abs(Math.log(one.area / typical)) +
      speed / sizeOf(one) +
      BEST.ends * fromMiddle ** 2 +
      (isAlone ? 0 : BEST.near)
    )
  }
  let best = 1
  for (let i = 2; i + 1 < sightings.length; i++) if (cost(i) < cost(best)) best = i
  return sightings[best]
}

/** Returns true if another region of some size is within the size of a sighting. */
function isNear(one: Sighting, other: Region): boolean {
  if (other.area < BEST.least * one.area || Math.hypot(other.x - one.x, other.y - one.y) < 1) return false
  const reach = sizeOf(one)
  return (
    other.left < one.right + reach &&
    other.right > one.left - reach &&
    other.top < one.bottom + reach &&
    other.bottom > one.top - reach
  )
}

/** Steps along a ray in which nothing is seen, of half a pixel each, before the rim is passed. */
const RIM = 3

/** Returns the outline around a sighting: in each direction as far as the mask is set without a gap; where it is not, half its size. */
export function outlineOf(sighting: Sighting, mask: Uint8Array, width: number): Outline {
  const { x, y, left, right, top, bottom } = sighting
  const round = roundOutline(sizeOf(sighting) / 2)
  const reach = (direction: number) => {
    const angle = (2 * Math.PI * direction) / round.radii.length
    let [seen, gap] = [0, 0]
    for (let radius = 0; gap < RIM; radius += 0.5) {
      const [column, row] = [
        Math.floor(x + radius * Math.cos(angle)),
        Math.floor(y + radius * Math.sin(angle)),
      ]
      if (column < left || column > right || row < top || row > bottom) break
      if (mask[row * width + column] === 0) gap++
      else [seen, gap] = [radius, 0]
    }
    return seen
  }
  return { radii: round.radii.map((radius, direction) => reach(direction) || radius) }
}
