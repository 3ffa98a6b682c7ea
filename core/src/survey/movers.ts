import { type Outline, roundOutline } from '../following/index.ts'
import { fitPolynomial } from '../regression/index.ts'
import { median } from '../time/index.ts'
import type { Luma } from './luma.ts'
import { bodiesIn, connectedRegions, type Region, sizeOf, tidied } from './regions.ts'
import { type StillPicture, stillPicture } from './stillPicture.ts'

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

/** A region of a picture that belongs to a mover. */
interface Sighting extends Region {
  /** Position in the list of pictures. */
  at: number
}

/** A picture reduced in size: its brightness, and its colour differences at half of that size where it has some. */
export interface SmallPicture {
  luma: Luma
  blue: Luma | null
  red: Luma | null
}

/** Least difference of brightness and of colour that counts. */
const LEAST = { luma: 10, colour: 6 }
/** Share of the brightness that is left in a shadow, at least. */
const SHADE = 0.5
/** Shares of a region's pixels that are in shadow where it is a body with its shadow, and how far beside it that lies, in sizes of both. */
const SHADOWS = { least: 0.2, most: 0.85, apart: 0.3 }
/** Most candidates. */
const MOST_MOVERS = 3
/** A region may go on so many pictures after it was seen last. */
const LONGEST_GAP = 6
/** How far from where it is expected a region may be: a share of its size, and some pixels. */
const REACH = { share: 0.8, pixels: 4 }
/** How much larger or smaller a region may become from one picture to the next. */
const GROWTH = 2.5
/** Fewest pictures in which a mover is seen. */
const FEWEST = 6
/** Pictures on either side through which a path is smoothed. */
const HALF_WINDOW = 3
/** Departure from a smooth path, in small pixels, that halves the score. */
const ROUGH = 1
/** Relative change of size that halves the score. */
const UNSTEADY = 0.35
/** Least extent of a way, in sizes of the body; the share of a way to and fro that counts, and its places that do. */
const LEAST_EXTENT = 0.3
const SWINGING = 0.4
const COARSE = 6
/** A region that stays within so many small pixels is at rest. */
const AT_REST = 1.5
/** Places of a way at which it is asked what else comes by, and how much of that makes it nothing. */
const PLACES = 12
const MOST_UNREST = 0.4
/** Share of the pictures that count as quiet besides: a place that is hardly ever free of the mover itself says little. */
const DOUBT = 0.2
/** Share of the picture above which a region is a person or the light rather than a body. */
const LARGE = 0.06
/** Costs of a sighting for where a body is seen best: at the beginning or the end, and with something else within its size. */
const BEST = { ends: 1.5, near: 1, least: 0.1 }
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
 */
export async function findMovers(
  pictures: readonly SmallPicture[],
  pause: () => Promise<void> = async () => {},
): Promise<Mover[]> {
  if (pictures.length < FEWEST) return []
  const [{ luma, blue, red }] = pictures
  const planes = (key: keyof SmallPicture) => pictures.flatMap((picture) => picture[key] ?? [])
  const still = {
    luma: stillPicture(planes('luma'), LEAST.luma),
    blue: blue && stillPicture(planes('blue'), LEAST.colour),
    red: red && stillPicture(planes('red'), LEAST.colour),
  }
  const { width, height } = luma
  const masks: Uint8Array[] = []
  const regions: Region[][] = []
  for (const picture of pictures) {
    await pause()
    const mask = differing(picture, still)
    masks.push(mask)
    regions.push(solidRegions(mask, width))
  }
  const tracks = linked(regions)
  const movers = tracks
    .map((track) => inMotion(ofOneSize(track)))
    .filter(({ length }) => length >= FEWEST)
    .map((sightings) => ({
      sightings,
      score:
        scoreOf(sightings, { width, height }) *
        Math.max(0, 1 - unrest(sightings, masks, width) / MOST_UNREST),
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

/** What a pixel of a mask is: nothing, something that moves, or something that may be its shadow. */
const [MOVING, SHADED] = [1, 2]

/**
 * Marks the pixels of a plane that differ from what stands still by more than noise.
 *
 * @param shade share of the brightness that a shadow leaves; null where there are no shadows
 */
function markDiffering(
  mask: Uint8Array,
  { data }: Luma,
  { value, limit }: StillPicture,
  shade: number | null,
): void {
  for (let i = 0; i < data.length; i++) {
    const off = data[i] - value[i]
    if (off > limit) mask[i] = MOVING
    else if (off < -limit) mask[i] = shade !== null && data[i] > shade * value[i] ? SHADED : MOVING
  }
}

/** Returns which pixels of a picture differ from what stands still: in colour, or in brightness, where they may be in shadow. */
function differing(
  { luma, blue, red }: SmallPicture,
  still: Record<keyof SmallPicture, StillPicture | null>,
): Uint8Array {
  const mask = new Uint8Array(luma.data.length)
  // Without colours a shadow can't be told from a dark body.
  markDiffering(mask, luma, still.luma!, blue && red ? SHADE : null)
  for (const [plane, of] of [
    [blue, still.blue],
    [red, still.red],
  ] as const) {
    if (!plane || !of) continue
    const coarse = new Uint8Array(plane.data.length)
    markDiffering(coarse, plane, of, null)
    for (let at = coarse.indexOf(MOVING); at >= 0; at = coarse.indexOf(MOVING, at + 1)) {
      const [column, row] = [2 * (at % plane.width), 2 * Math.floor(at / plane.width)]
      for (let y = row; y < Math.min(luma.height, row + 2); y++)
        for (let x = column; x < Math.min(luma.width, column + 2); x++) mask[y * luma.width + x] = MOVING
    }
  }
  return mask
}

/** Returns a region without its shadow, where it has one beside it and more than that. */
function withoutShadow(region: Region, shaded: Uint8Array, mask: Uint8Array, width: number): Region {
  const [body, shadow] = [newMiddle(), newMiddle()]
  for (let row = region.top; row <= region.bottom; row++)
    for (let column = region.left; column <= region.right; column++) {
      const at = row * width + column
      const part = shaded[at] === SHADED ? shadow : mask[at] === 1 ? body : null
      if (!part) continue
      part.count++
      part.x += column + 0.5
      part.y += row + 0.5
    }
  const share = shadow.count / (shadow.count + body.count)
  if (share < SHADOWS.least || share > SHADOWS.most) return region
  const [x, y] = [body.x / body.count, body.y / body.count]
  const away = Math.hypot(shadow.x / shadow.count - x, shadow.y / shadow.count - y)
  // A body that is dark in places is not its shadow.
  return away < SHADOWS.apart * sizeOf(region) ? region : { ...region, area: body.count, x, y }
}

const newMiddle = () => ({ count: 0, x: 0, y: 0 })

/** Returns the regions of a mask without strings and edges, which are thin; where nothing else is, what is thin counts as well. */
function solidRegions(shaded: Uint8Array, width: number): Region[] {
  const mask = new Uint8Array(shaded.length)
  for (let i = 0; i < shaded.length; i++) if (shaded[i] !== 0) mask[i] = 1
  const kept = tidied(mask, width)
  const solid = connectedRegions(kept.slice(), width)
    .flatMap((region) => bodiesIn(region, kept, width))
    .map((region) => withoutShadow(region, shaded, kept, width))
  const isApart = ({ left, right, top, bottom }: Region) =>
    solid.every((one) => one.left > right || one.right < left || one.top > bottom || one.bottom < top)
  return [...solid, ...connectedRegions(mask, width).filter(isApart)]
}

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
function linked(regions: readonly (readonly Region[])[]): Sighting[][] {
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
function ofOneSize(track: readonly Sighting[]): Sighting[] {
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
function inMotion(sightings: readonly Sighting[]): readonly Sighting[] {
  const isAt = (rest: Sighting) => (one: Sighting) => Math.hypot(one.x - rest.x, one.y - rest.y) < AT_REST
  const first = sightings.findIndex((one) => !isAt(sightings[0])(one))
  const last = sightings.findLastIndex((one) => !isAt(sightings[sightings.length - 1])(one))
  return first < 0 ? [] : sightings.slice(Math.max(0, first - 1), last + 2)
}

/**
 * Returns how restless the way of a mover is while it is elsewhere: the share of pictures, 0 to 1, in which something else is where it
 * comes by. Where a flag waves or water glitters, something is all the time.
 */
function unrest(sightings: readonly Sighting[], masks: readonly Uint8Array[], width: number): number {
  const placeAt = new Map(sightings.map((sighting) => [sighting.at, sighting]))
  const asked = Array.from(
    { length: PLACES },
    (_, i) => sightings[Math.round((i * (sightings.length - 1)) / (PLACES - 1))],
  )
  let [busy, count] = [0, 0]
  for (const place of asked) {
    const pixel = Math.floor(place.y) * width + Math.floor(place.x)
    masks.forEach((mask, at) => {
      const own = placeAt.get(at)
      if (own && Math.hypot(own.x - place.x, own.y - place.y) < 1.5 * sizeOf(place)) return
      busy += Math.min(1, mask[pixel])
      count++
    })
  }
  return busy / (count + DOUBT * PLACES * masks.length)
}

/** Returns how convincing a mover is: its extent in widths of the picture, or a share of its way where it goes to and fro, less where it is large, unsteady or rough. */
function scoreOf(sightings: readonly Sighting[], picture: { width: number; height: number }): number {
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
    (1 / (1 + (rough / ROUGH) ** 2))
  )
}

/** Returns the length of a way through every sixth place, so that what trembles on the spot does not come far. */
function coarseWay(sightings: readonly Sighting[]): number {
  const places = sightings.filter((_, i) => i % COARSE === 0)
  return places.reduce(
    (sum, { x, y }, i) => (i === 0 ? 0 : sum + Math.hypot(x - places[i - 1].x, y - places[i - 1].y)),
    0,
  )
}

/** Returns the diagonal of the box around a path. */
function extentOf(sightings: readonly Sighting[]): number {
  if (sightings.length === 0) return 0
  const along = (axis: 'x' | 'y') => {
    const values = sightings.map((sighting) => sighting[axis])
    return Math.max(...values) - Math.min(...values)
  }
  return Math.hypot(along('x'), along('y'))
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

/**
 * Returns the sighting in which a body is seen best: of its usual size, slow (sizes of the body for each picture), with nothing else
 * that moves near it, and far from the beginning and the end, where a hand may hold it and something may cover it.
 */
function bestSighting(sightings: readonly Sighting[], regions: readonly (readonly Region[])[]): Sighting {
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
function outlineOf(sighting: Sighting, mask: Uint8Array, width: number): Outline {
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

/** Returns true if two movers are seen at the same places for the most part. */
function isSame(one: Pick<Mover, 'sightings'>, other: Pick<Mover, 'sightings'>): boolean {
  const places = new Map(one.sightings.map((sighting) => [sighting.at, sighting]))
  const met = other.sightings.filter((sighting) => {
    const place = places.get(sighting.at)
    return place && Math.hypot(place.x - sighting.x, place.y - sighting.y) < sizeOf(place)
  })
  return met.length > other.sightings.length / 2
}
