import { fitPolynomial } from '../regression/index.ts'
import { median } from '../time/index.ts'
import { extentOf, type Sighting, UNSTEADY } from './moverTracks.ts'
import { type Region, sizeOf } from './regions.ts'

/** How convincing a mover is: bodies are small, keep their size, and go smoothly; people, flags, shadows and ripples do not. */

/** Fewest pictures in which a mover is seen. */
export const FEWEST = 6
/** Pictures on either side through which a path is smoothed. */
const HALF_WINDOW = 3
/** Departure from a smooth path, in small pixels, that halves the score. */
const ROUGH = 1
/** Least extent of a way, in sizes of the body; the share of a way to and fro that counts, and its places that do. */
const LEAST_EXTENT = 0.3
const SWINGING = 0.4
const COARSE = 6
/** Places of a way at which it is asked what else comes by, and how much of that makes it nothing. */
const PLACES = 12
const MOST_UNREST = 0.4
/** Relative change of area, and distance in sizes, up to which a region at a place of the mover is the mover itself. */
const ITSELF = { area: 0.15, sizes: 0.7 }
/** Share of the pictures that count as quiet besides: a place that is hardly ever free of the mover itself says little. */
const DOUBT = 0.2
/** Share of the picture above which a region is a person or the light rather than a body. */
const LARGE = 0.06

/** Returns how convincing a mover is: its extent in widths of the picture, or a share of its way where it goes to and fro, less where it is large, unsteady or rough, or where something moves at its places all the time. */
export function scoreOf(
  sightings: readonly Sighting[],
  masks: readonly Uint8Array[],
  regions: readonly (readonly Region[])[],
  picture: { width: number; height: number },
): number {
  const areas = sightings.map(({ area }) => area)
  const typical = median(areas)
  const spread = median(areas.map((area) => Math.abs(area - typical))) / typical
  const size = Math.sqrt(typical)
  const extent = extentOf(sightings)
  if (extent < LEAST_EXTENT * size) return 0
  const way = Math.max(extent, SWINGING * coarseWay(sightings)) - LEAST_EXTENT * size
  const rough = roughness(sightings)
  const share = typical / (picture.width * picture.height)
  return (
    (Math.min(way, picture.width) / picture.width) *
    Math.min(1, sightings.length / (2 * FEWEST)) *
    Math.exp(-share / LARGE) *
    (1 / (1 + (spread / UNSTEADY) ** 2)) *
    (1 / (1 + (rough / ROUGH) ** 2)) *
    Math.max(0, 1 - unrest(sightings, masks, regions, picture.width) / MOST_UNREST)
  )
}

/**
 * Returns how restless the way of a mover is while it is elsewhere: the share of pictures, 0 to 1, in which something else is where it
 * comes by. Where a flag waves or water glitters, something is all the time. What looks like the mover itself, in pictures in which it
 * was lost, does not count.
 */
function unrest(
  sightings: readonly Sighting[],
  masks: readonly Uint8Array[],
  regions: readonly (readonly Region[])[],
  width: number,
): number {
  const placeAt = new Map(sightings.map((sighting) => [sighting.at, sighting]))
  const asked = Array.from(
    { length: PLACES },
    (_, i) => sightings[Math.round((i * (sightings.length - 1)) / (PLACES - 1))],
  )
  const isLong = sightings.length > masks.length / 2
  let [busy, count] = [0, 0]
  for (const place of asked) {
    const pixel = Math.floor(place.y) * width + Math.floor(place.x)
    masks.forEach((mask, at) => {
      const own = placeAt.get(at)
      if (own && Math.hypot(own.x - place.x, own.y - place.y) < 1.5 * sizeOf(place)) return
      const isBeyond = at < sightings[0].at || at > sightings[sightings.length - 1].at
      if (isLong && isBeyond && regions[at].some((region) => isAlike(region, place))) return
      busy += Math.min(1, mask[pixel])
      count++
    })
  }
  return busy / (count + DOUBT * PLACES * masks.length)
}

/** Returns true if a region is about as large as a mover at one of its places, and lies there. */
function isAlike(region: Region, place: Sighting): boolean {
  if (Math.abs(region.area / place.area - 1) > ITSELF.area) return false
  return Math.hypot(region.x - place.x, region.y - place.y) < ITSELF.sizes * sizeOf(place)
}

/** Returns the length of a way through every sixth place, so that what trembles on the spot does not come far. */
function coarseWay(sightings: readonly Sighting[]): number {
  const places = sightings.filter((_, i) => i % COARSE === 0)
  return places.reduce(
    (sum, { x, y }, i) => (i === 0 ? 0 : sum + Math.hypot(x - places[i - 1].x, y - places[i - 1].y)),
    0,
  )
}

/** Returns the median distance of sightings from the parabola through their neighbours. */
function roughness(sightings: readonly Sighting[]): number {
  const off: number[] = []
  for (let i = 0; i < sightings.length; i++) {
    const near = sightings.slice(Math.max(0, i - HALF_WINDOW), i + HALF_WINDOW + 1)
    if (near.length < 2 * HALF_WINDOW + 1) continue
    const value = (axis: 'x' | 'y') =>
      fitPolynomial(
        near.map(({ at }) => at),
        near.map((one) => one[axis]),
        2,
      ).valueAt(sightings[i].at)
    off.push(Math.hypot(sightings[i].x - value('x'), sightings[i].y - value('y')))
  }
  return off.length > 0 ? median(off) : Number.POSITIVE_INFINITY
}
