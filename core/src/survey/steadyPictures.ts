import { type Point, type Similarity, similarityStep, zoomOf } from '../geometry/index.ts'
import { type Luma, lumaBetween } from './luma.ts'
import type { SmallPicture } from './moverMask.ts'
import type { Mover } from './movers.ts'

/** Pictures of a moving camera as one that stands still would have taken them. */
export interface SteadyPictures {
  pictures: SmallPicture[]
  /** The similarity that takes a point of the first picture to where it is in each, the size of all, and their upper left corner in it. */
  motions: readonly Similarity[]
  filmed: { width: number; height: number }
  origin: Point
  /** Returns a mover that was found in them as it is in the pictures that were taken. */
  asFilmed(mover: Mover): Mover
}

/** Largest area of the steady pictures, in areas of a filmed one: a camera that goes farther shows too little at a time. */
const LARGEST = 5

/**
 * Returns pictures of a moving camera in the coordinates of the first one, large enough for all of them. What is outside of a
 * picture is as it was seen last, or as it is seen first. Null where the camera goes too far.
 *
 * @param motions the similarity that takes a point of the first picture to where it is in each, in pixels of brightness
 * @param pause awaited between steps
 */
export async function steadyPictures(
  pictures: readonly SmallPicture[],
  motions: readonly Similarity[],
  pause: () => Promise<void> = async () => {},
): Promise<SteadyPictures | null> {
  const { width, height } = pictures[0].luma
  const corners = motions.flatMap((motion) => {
    const { backward } = similarityStep(motion)
    return [
      [0, 0],
      [width, 0],
      [width, height],
      [0, height],
    ].map(([x, y]) => backward({ x, y }))
  })
  const reach = (axis: 'x' | 'y') => {
    const values = corners.map((corner) => corner[axis])
    return [Math.floor(Math.min(...values)), Math.ceil(Math.max(...values))]
  }
  const [[left, right], [top, bottom]] = [reach('x'), reach('y')]
  // Even, so that colour differences have half of it.
  const size = { width: 2 * Math.ceil((right - left) / 2), height: 2 * Math.ceil((bottom - top) / 2) }
  if (size.width * size.height > LARGEST * width * height) return null
  const origin = { x: left, y: top }
  const planes = async (key: keyof SmallPicture, scale: number) => {
    const filmed = pictures.map((picture) => picture[key])
    return filmed.every((plane) => plane !== null)
      ? steadied(filmed, motions, origin, size, scale, pause)
      : null
  }
  const luma = (await planes('luma', 1))!
  const [blue, red] = [await planes('blue', 2), await planes('red', 2)]
  return {
    motions,
    filmed: { width, height },
    origin,
    pictures: pictures.map((_, i) => ({ luma: luma[i], blue: blue?.[i] ?? null, red: red?.[i] ?? null })),
    asFilmed: ({ sightings, best, outline, score }) => {
      const filmed = sightings.map((sighting) => {
        const motion = motions[sighting.at]
        const seen = similarityStep(motion).forward({ x: sighting.x + left, y: sighting.y + top })
        return { ...sighting, ...seen, area: sighting.area * zoomOf(motion) ** 2 }
      })
      const zoom = zoomOf(motions[best.at])
      return {
        sightings: filmed,
        best: filmed[sightings.indexOf(best)],
        outline: { radii: outline.radii.map((radius) => radius * zoom) },
        score,
      }
    },
  }
}

/**
 * Returns planes in the coordinates of the first picture, between pixels by their nearest four.
 *
 * @param origin upper left corner in the first picture, and `size` of what is made, in pixels of brightness
 * @param scale pixels of brightness for one of the plane's, along each side
 */
async function steadied(
  planes: readonly Luma[],
  motions: readonly Similarity[],
  origin: Point,
  size: { width: number; height: number },
  scale: number,
  pause: () => Promise<void>,
): Promise<Luma[]> {
  const [across, down] = [size.width / scale, size.height / scale]
  const steady: Luma[] = []
  const unknown: Uint8Array[] = []
  for (const [i, plane] of planes.entries()) {
    await pause()
    const { width, height } = plane
    const { a, b, x, y } = motions[i]
    const made = new Uint8Array(across * down)
    const missing = new Uint8Array(across * down)
    for (let row = 0; row < down; row++)
      for (let column = 0; column < across; column++) {
        const at = row * across + column
        const [u, v] = [origin.x + (column + 0.5) * scale, origin.y + (row + 0.5) * scale]
        const seenX = (a * u - b * v + x) / scale - 0.5
        const seenY = (b * u + a * v + y) / scale - 0.5
        if (seenX < 0 || seenY < 0 || seenX > width - 1.001 || seenY > height - 1.001) {
          const before = steady[i - 1]
          made[at] = before ? before.data[at] : 0
          missing[at] = before ? unknown[i - 1][at] : 1
          continue
        }
        made[at] = lumaBetween(plane, seenX, seenY) + 0.5
      }
    steady.push({ width: across, height: down, data: made })
    unknown.push(missing)
  }
  // What was never seen before is as it is seen first.
  for (let i = planes.length - 2; i >= 0; i--)
    for (let at = unknown[i].indexOf(1); at >= 0; at = unknown[i].indexOf(1, at + 1))
      steady[i].data[at] = steady[i + 1].data[at]
  return steady
}
