import { median } from '../time/index.ts'
import { type Region, sizeOf } from './regions.ts'

/** Regions that are one thing, linked from picture to picture. */

/** A region of a picture that belongs to a mover. */
export interface Sighting extends Region {
  /** Position in the list of pictures. */
  at: number
}

/** A region may go on so many pictures after it was seen last. */
const LONGEST_GAP = 6
/** How far from where it is expected a region may be: a share of its size, and some pixels. */
const REACH = { share: 0.8, pixels: 4 }
/** How much larger or smaller a region may become from one picture to the next. */
const GROWTH = 2.5
/** Relative change of size that halves the score. */
export const UNSTEADY = 0.35
/** A region that stays within so many small pixels is at rest. */
const AT_REST = 1.5
/** A track while it is being linked. */
interface Track {
  sightings: Sighting[]
}

/** Returns where a track is expected in a picture: on, as it went from the sighting before. */
function expectedAt({ sightings }: Track, at: number): { x: number; y: number } {
  const last = sightings[sightings.length - 1]
  const before = sightings[sightings.length - 2]
  if (!before) return last
  const share = (at - last.at) / (last.at - before.at)
  return { x: last.x + share * (last.x - before.x), y: last.y + share * (last.y - before.y) }
}

/** Links regions from picture to picture: the nearest pairs first. */
export function linked(regions: readonly (readonly Region[])[]): Sighting[][] {
  const ended: Track[] = []
  let open: Track[] = []
  regions.forEach((seen, at) => {
    const pairs: { track: Track; region: Region; cost: number }[] = []
    for (const track of open) {
      const last = track.sightings[track.sightings.length - 1]
      const expected = expectedAt(track, at)
      // What was seen once may go anywhere within its own size and a little.
      const reach =
        track.sightings.length === 1
          ? 1.5 * sizeOf(last) + 3 * REACH.pixels
          : REACH.share * sizeOf(last) + REACH.pixels * (at - last.at)
      for (const region of seen) {
        const away = Math.hypot(region.x - expected.x, region.y - expected.y)
        const growth = Math.max(region.area / last.area, last.area / region.area)
        if (away <= reach && growth <= GROWTH)
          pairs.push({ track, region, cost: away / reach + Math.log(growth) })
      }
    }
    pairs.sort((a, b) => a.cost - b.cost)
    const [continued, taken] = [new Set<Track>(), new Set<Region>()]
    for (const { track, region } of pairs) {
      if (continued.has(track) || taken.has(region)) continue
      continued.add(track)
      taken.add(region)
      track.sightings.push({ ...region, at })
    }
    const isOpen = ({ sightings }: Track) => at - sightings[sightings.length - 1].at < LONGEST_GAP
    ended.push(...open.filter((track) => !isOpen(track)))
    open = open.filter(isOpen)
    for (const region of seen) if (!taken.has(region)) open.push({ sightings: [{ ...region, at }] })
  })
  return [...ended, ...open].map(({ sightings }) => sightings)
}

/**
 * Returns what of a track is one thing: the run with the largest extent in which the region keeps its size, and all else of the track that has about
 * that size. Where a hand lets go of a body, its size changes at once and for good; a body that passes others is larger or
 * smaller for a moment.
 */
export function ofOneSize(track: readonly Sighting[]): Sighting[] {
  let farthest: readonly Sighting[] = []
  let from = 0
  for (let to = 1; to <= track.length; to++) {
    const isSteady =
      to < track.length && Math.abs(Math.log(track[to].area / track[to - 1].area)) < Math.log(1 + UNSTEADY)
    if (isSteady) continue
    const run = track.slice(from, to)
    if (run.length > 2 && extentOf(run) > extentOf(farthest)) farthest = run
    from = to
  }
  if (farthest.length === 0) return []
  const typical = median(farthest.map(({ area }) => area))
  return track.filter(({ area }) => Math.abs(Math.log(area / typical)) < Math.log(1 + 2 * UNSTEADY))
}

/** Returns sightings without those at the beginning and at the end in which it stays where it is. */
export function inMotion(sightings: readonly Sighting[]): readonly Sighting[] {
  const isAt = (rest: Sighting) => (one: Sighting) => Math.hypot(one.x - rest.x, one.y - rest.y) < AT_REST
  const first = sightings.findIndex((one) => !isAt(sightings[0])(one))
  const last = sightings.findLastIndex((one) => !isAt(sightings[sightings.length - 1])(one))
  return first < 0 ? [] : sightings.slice(Math.max(0, first - 1), last + 2)
}

/** Returns the diagonal of the box around a path. */
export function extentOf(sightings: readonly Sighting[]): number {
  if (sightings.length === 0) return 0
  const along = (axis: 'x' | 'y') => {
    const values = sightings.map((sighting) => sighting[axis])
    return Math.max(...values) - Math.min(...values)
  }
  return Math.hypot(along('x'), along('y'))
}
