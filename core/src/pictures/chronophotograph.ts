import type { ColourPlane } from '../following/index.ts'
import type { Point } from '../geometry/index.ts'
import { aperiodicPlace } from '../time/index.ts'

/** Differences of brightness from the ground, of 255, from which on a pixel begins to be the body's, and is wholly. */
const DIFFERS = { from: 10, to: 34 }
/** Pixels around one whose differences count with it, so that a body has no holes where it looks like the ground. */
const AROUND = 2
/** Share of the radius at which what is laid over begins to fade. */
const SOFT = 0.75

/**
 * Returns what stands still in some frames: of each pixel's colours the median.
 *
 * @param frames whole frames of one size, three or more
 */
export function stillGround(frames: readonly ColourPlane[]): ColourPlane {
  const [{ x, y, width, height }] = frames
  const data = new Uint8Array(4 * width * height)
  const samples = new Uint8Array(frames.length)
  const middle = frames.length >> 1
  for (let at = 0; at < data.length; at++) {
    if (at % 4 === 3) {
      data[at] = 255
      continue
    }
    for (let k = 0; k < frames.length; k++) samples[k] = frames[k].data[at]
    samples.sort()
    data[at] = samples[middle]
  }
  return { x, y, width, height, data }
}

/**
 * Lays a body, as one frame shows it, over a picture: of what lies within a radius around its place what differs from
 * the ground, blended softly at the rim. Without a ground all within the radius is laid over.
 *
 * @param into the picture, which is changed
 * @param part of the frame, around the body
 * @param ground what stands still, in the frame's own pixels; null where the camera moves
 * @param from the body's place in the frame
 * @param to where it is laid; another place than `from` where the camera has moved in between
 */
export function layOver(
  into: ColourPlane,
  part: ColourPlane,
  ground: ColourPlane | null,
  { from, to, radius }: { from: Point; to: Point; radius: number },
): void {
  const [shiftX, shiftY] = [Math.round(to.x - from.x), Math.round(to.y - from.y)]
  const differences = ground && differenceOf(part, ground)
  for (let row = 0; row < part.height; row++)
    for (let column = 0; column < part.width; column++) {
      const [x, y] = [part.x + column + shiftX - into.x, part.y + row + shiftY - into.y]
      if (x < 0 || y < 0 || x >= into.width || y >= into.height) continue
      const away = Math.hypot(part.x + column + 0.5 - from.x, part.y + row + 0.5 - from.y) / radius
      const rim = 1 - smooth((away - SOFT) / (1 - SOFT))
      const own = differences
        ? smooth((differences[row * part.width + column] - DIFFERS.from) / (DIFFERS.to - DIFFERS.from))
        : 1
      const weight = rim * own
      if (weight === 0) continue
      const [source, target] = [4 * (row * part.width + column), 4 * (y * into.width + x)]
      for (let k = 0; k < 3; k++)
        into.data[target + k] = Math.round(
          into.data[target + k] + weight * (part.data[source + k] - into.data[target + k]),
        )
    }
}

const smooth = (share: number) => {
  const t = Math.min(1, Math.max(0, share))
  return t * t * (3 - 2 * t)
}

/** Returns by how much the pixels of a part differ from the ground, the most of their colours, on the average around each. */
function differenceOf(part: ColourPlane, ground: ColourPlane): Float32Array {
  const { width, height } = part
  const plain = new Float32Array(width * height)
  for (let row = 0; row < height; row++)
    for (let column = 0; column < width; column++) {
      const [x, y] = [part.x + column - ground.x, part.y + row - ground.y]
      if (x < 0 || y < 0 || x >= ground.width || y >= ground.height) continue
      const [own, other] = [4 * (row * width + column), 4 * (y * ground.width + x)]
      for (let k = 0; k < 3; k++)
        plain[row * width + column] = Math.max(
          plain[row * width + column],
          Math.abs(part.data[own + k] - ground.data[other + k]),
        )
    }
  return averaged(averaged(plain, width, height, 1, 0), width, height, 0, 1)
}

/** Means over the neighbours along one direction. */
function averaged(values: Float32Array, width: number, height: number, dx: number, dy: number): Float32Array {
  const means = new Float32Array(values.length)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let [sum, count] = [0, 0]
      for (let k = -AROUND; k <= AROUND; k++) {
        const [u, v] = [x + k * dx, y + k * dy]
        if (u < 0 || v < 0 || u >= width || v >= height) continue
        sum += values[v * width + u]
        count++
      }
      means[y * width + x] = sum / count
    }
  return means
}

/** Returns which marks a chronophotograph shows: every n-th of some frames, the first among them. */
export function everyNth<T>(things: readonly T[], n: number): T[] {
  return things.filter((_, i) => i % Math.max(1, Math.round(n)) === 0)
}

/** Returns so many of some things at most, evenly spread among them from the first to the last. */
export function spreadEvenly<T>(things: readonly T[], most: number): T[] {
  const count = Math.min(most, things.length)
  return count < 2
    ? things.slice(0, Math.max(0, count))
    : Array.from({ length: count }, (_, i) => things[Math.round((i / (count - 1)) * (things.length - 1))])
}

/**
 * Returns one thing from each of `count` equal parts of a list, in order; all if there are no more. Unlike evenly spread ones they
 * keep no time with something that swings, so that it is in few of them at one place.
 */
export function spreadAperiodically<T>(things: readonly T[], count: number): T[] {
  if (things.length <= count) return [...things]
  const startOf = (part: number) => Math.floor((part * things.length) / count)
  return Array.from({ length: count }, (_, i) => {
    const length = startOf(i + 1) - startOf(i)
    return things[startOf(i) + Math.floor(aperiodicPlace(i) * length)]
  })
}
