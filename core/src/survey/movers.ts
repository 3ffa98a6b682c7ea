import type { Outline } from '../following/index.ts'
import { bestSighting, outlineOf } from './bestSighting.ts'
import { differing, type SmallPicture, solidRegions, stillOf } from './moverMask.ts'
import { FEWEST, scoreOf } from './moverScore.ts'
import { inMotion, linked, ofOneSize, type Sighting } from './moverTracks.ts'
import { type Region, sizeOf } from './regions.ts'

/** Something that moves in front of what stands still. Places are in small pixels, at the centres of its regions. */
export interface Mover {
  /** Positions in the list of pictures, and what was seen of it there. */
  sightings: readonly Sighting[]
  /** The sighting in which it is seen best. */
  best: Sighting
  /** Outline at its best sighting, in small pixels. */
  outline: Outline
  /** How convincing it is; what is below `CONVINCING` is left out. */
  score: number
}

/** Most candidates. */
const MOST_MOVERS = 3
/** Least score of a candidate: a path of a twentieth of the picture's width by something steady. */
const CONVINCING = 0.05
/** Least score of a further candidate, and least number of its sightings, as shares of the best one's: less is a part of that. */
const COMPARABLE = 0.1

/**
 * Returns what moves against what stands still, the most convincing first; at most three, none where nothing does. For a
 * camera that stands still.
 *
 * Pictures are compared with what stands still in them all; what differs in one connected region from picture to picture is
 * linked by where it is expected. A body is small, keeps its size, and its path is smooth; people, flags, shadows and
 * ripples are not, or do not come far.
 *
 * @param pictures of one size, evenly spaced in time
 * @param pause awaited between steps
 * @param isSolidOnly whether what is thin is left out: in pictures that were steadied edges differ by themselves
 */
export async function findMovers(
  pictures: readonly SmallPicture[],
  pause: () => Promise<void> = async () => {},
  isSolidOnly = false,
): Promise<Mover[]> {
  if (pictures.length < FEWEST) return []
  const still = stillOf(pictures)
  const { width, height } = pictures[0].luma
  const masks: Uint8Array[] = []
  /** What is asked where something comes by: a rope that a body hangs from is thin, and nothing that comes by. */
  const busy: Uint8Array[] = []
  const regions: Region[][] = []
  for (const picture of pictures) {
    await pause()
    const mask = differing(picture, still)
    masks.push(mask)
    const found = solidRegions(mask, width, isSolidOnly)
    busy.push(isSolidOnly ? found.solid : mask)
    regions.push(found.regions)
  }
  const tracks = linked(regions)
  const movers = tracks
    .map((track) => inMotion(ofOneSize(track)))
    .filter(({ length }) => length >= FEWEST)
    .map((sightings) => ({
      sightings,
      score: scoreOf(sightings, busy, regions, { width, height }),
    }))
    .filter(({ score }) => score >= CONVINCING)
    .sort((a, b) => b.score - a.score)
    .filter((mover, i, all) => !all.slice(0, i).some((better) => isSame(better, mover)))
    .filter(
      ({ score, sightings }, _, [best]) =>
        score >= COMPARABLE * best.score && sightings.length >= COMPARABLE * best.sightings.length,
    )
    .slice(0, MOST_MOVERS)
  return movers.map((mover) => {
    const best = bestSighting(mover.sightings, regions)
    return { ...mover, best, outline: outlineOf(best, masks[best.at], width) }
  })
}

/** Returns true if two movers are seen at the same places for the most part. */
function isSame(one: Pick<Mover, 'sightings'>, other: Pick<Mover, 'sightings'>): boolean {
  const places = new Map(one.sightings.map((sighting) => [sighting.at, sighting]))
  const met = other.sightings.filter((sighting) => {
    const place = places.get(sighting.at)
    return place && Math.hypot(place.x - sighting.x, place.y - sighting.y) < sizeOf(place)
  })
  return met.length > other.sightings.length / 2
}
