import { cornerStrengths, type Point, similarityStep } from '../geometry/index.ts'
import type { Luma } from './luma.ts'
import type { Mover } from './movers.ts'
import { sizeOf } from './regions.ts'
import type { SteadyPictures } from './steadyPictures.ts'

/** Half the width of the square around a spot by which it is told, in small pixels. */
const HALF = 3
/** Least of the smaller eigenvalue of a spot's structure tensor, per pixel: below it is an edge or even. */
const LEAST_TEXTURE = 30
/** Mean change of brightness around a spot, and the share of the pictures, from which something is in front of it, or it moves. */
const CHANGED = { by: 14, share: 0.05 }
/** Distance from the rim of every picture, in small pixels. */
const MARGIN = 8
/** Distance of spots from each other, as a share of the picture's width, at least. */
const APART = 0.12
/** Most spots, and most corners that are asked. */
const MOST = { spots: 4, corners: 80 }

/**
 * Returns spots of the scene that are seen in all pictures of a moving camera and can be told again, far from each other and from what
 * moves: corners by the smaller eigenvalue of the structure tensor (`cornerStrengths`). Each as where it is in every picture.
 *
 * @param movers as they were found in the steady pictures
 */
export function fixedSpots(
  { pictures, motions, origin, filmed }: SteadyPictures,
  movers: readonly Mover[],
): Point[][] {
  const lumas = pictures.map(({ luma }) => luma)
  const steps = motions.map((motion) => similarityStep(motion))
  const seenAt = ({ x, y }: Point) =>
    steps.map(({ forward }) => forward({ x: x + origin.x, y: y + origin.y }))
  const isSeen = (spot: Point) =>
    seenAt(spot).every(
      ({ x, y }) => x > MARGIN && y > MARGIN && x < filmed.width - MARGIN && y < filmed.height - MARGIN,
    )
  const isFree = ({ x, y }: Point) =>
    movers.every(({ sightings }) =>
      sightings.every((one) => Math.hypot(one.x - x, one.y - y) > sizeOf(one) + 2 * HALF),
    )
  const usable = corners(lumas[lumas.length >> 1])
    .filter((spot) => isSeen(spot) && isFree(spot))
    .slice(0, MOST.corners)
    .filter((spot) => isFixed(lumas, spot))
  // The clearest, and then each time the one that is farthest from those.
  const chosen = usable.slice(0, 1)
  const away = (spot: Point) => Math.min(...chosen.map((one) => Math.hypot(one.x - spot.x, one.y - spot.y)))
  while (chosen.length > 0 && chosen.length < MOST.spots) {
    const farthest = usable.reduce((best, spot) => (away(spot) > away(best) ? spot : best))
    if (away(farthest) < APART * filmed.width) break
    chosen.push(farthest)
  }
  return chosen.map(seenAt)
}

/** Returns the corners of a picture, the clearest first: in pixels, the centre of the first one at 0.5. */
function corners(picture: Luma): Point[] {
  const { width, height } = picture
  const texture = cornerStrengths(picture)
  const found: (Point & { texture: number })[] = []
  for (let y = HALF; y < height - HALF; y++)
    for (let x = HALF; x < width - HALF; x++) {
      const here = texture[y * width + x]
      if (here >= LEAST_TEXTURE && isHighest(texture, width, x, y))
        found.push({ x: x + 0.5, y: y + 0.5, texture: here })
    }
  return found.sort((a, b) => b.texture - a.texture)
}

/** Returns true if a value is the highest of those around it. */
function isHighest(values: Float32Array, width: number, x: number, y: number): boolean {
  for (let row = y - HALF; row <= y + HALF; row++)
    for (let column = x - HALF; column <= x + HALF; column++)
      if (values[row * width + column] > values[y * width + x]) return false
  return true
}

/** Returns true if what is around a spot stays as it is in nearly all pictures. */
function isFixed(pictures: readonly Luma[], { x, y }: Point): boolean {
  const middle = pictures[pictures.length >> 1]
  let changed = 0
  for (const { data, width } of pictures) {
    let sum = 0
    for (let row = Math.floor(y) - HALF; row <= Math.floor(y) + HALF; row++)
      for (let column = Math.floor(x) - HALF; column <= Math.floor(x) + HALF; column++)
        sum += Math.abs(data[row * width + column] - middle.data[row * width + column])
    if (sum / (2 * HALF + 1) ** 2 > CHANGED.by) changed++
  }
  return changed <= CHANGED.share * pictures.length
}
