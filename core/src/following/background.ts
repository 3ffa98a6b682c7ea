import type { Point } from '../geometry/index.ts'
import { byteList, floatList, kernels, placeOf, withArena } from '../kernels/index.ts'
import { type Grid, gridLike, type Plane, pyramid } from './grid.ts'

/** The static background of a span: its brightness, and where it is known (1) or not (0). */
export interface Background {
  /** At full size, then halved again and again. */
  value: Grid[]
  known: Grid[]
  /** Standard deviation of the noise of one frame. */
  noise: number
  /** Colour differences, where the frames had them: at half the size, both known where both are steady. */
  chroma: { blue: Grid; red: Grid; known: Grid; noise: number } | null
}

/** Number of pyramid levels that a background is kept in. */
export const LEVELS = 4
/** Samples whose middle part differs by more than so many deviations of the noise are no background. */
const SURE = 3
/** Frames that the kernel can sort samples of. */
const MOST_FRAMES = 256
/** Pixels whose samples are sorted at a time; a multiple of sixteen. */
const CHUNK = 2 ** 15
/** Quantiles that most of a pixel's samples lie between, and how many deviations of normal noise that is. */
const MOST = { low: 0.2, high: 0.8, deviations: 1.68 }

/**
 * Returns the background of a span with a still camera: the median of each pixel over some frames. Where the samples
 * scatter far more than noise, something rested, swung or waved there, and the background is unknown.
 *
 * @param frames 5 to 256 whole frames of one size, spread over the span
 */
export function backgroundOf(frames: Plane[]): Background {
  const [{ width, height }] = frames
  const { value, known, noise } = steady(frames.map(({ data }) => data))
  const whole = { x: 0, y: 0, width, height }
  return {
    value: pyramid(gridLike(whole, value), LEVELS),
    known: pyramid(gridLike(whole, known), LEVELS),
    noise,
    chroma: chromaOf(frames),
  }
}

function chromaOf(frames: Plane[]): Background['chroma'] {
  const all = frames.flatMap(({ chroma }) => chroma ?? [])
  if (all.length < frames.length) return null
  const [{ x, y, width, height }] = all
  const [blue, red] = [steady(all.map((one) => one.blue)), steady(all.map((one) => one.red))]
  const rect = { x, y, width, height }
  return {
    blue: gridLike(rect, blue.value),
    red: gridLike(rect, red.value),
    known: gridLike(
      rect,
      blue.known.map((known, at) => known * red.known[at]),
    ),
    noise: Math.max(blue.noise, red.noise),
  }
}

/** Of each pixel the median over samples, and whether they are so alike that it can be relied on. */
function steady(frames: Uint8Array[]): { value: Float32Array; known: Float32Array; noise: number } {
  if (frames.length > MOST_FRAMES) throw new RangeError(`A background of ${frames.length} frames.`)
  const [{ length }] = frames
  const value = new Float32Array(length)
  const spread = new Float32Array(length)
  const low = Math.floor(MOST.low * (frames.length - 1))
  const high = Math.ceil(MOST.high * (frames.length - 1))
  const middle = (frames.length - 1) / 2
  const places = [Math.floor(middle), Math.ceil(middle), low, high]
  withArena((frames.length + 8) * CHUNK + 2 ** 12, () => {
    const samples = byteList(frames.length * CHUNK)
    const [values, spreads] = [floatList(CHUNK), floatList(CHUNK)]
    for (let from = 0; from < length; from += CHUNK) {
      const count = Math.min(CHUNK, length - from)
      for (const [k, frame] of frames.entries()) samples.set(frame.subarray(from, from + count), k * CHUNK)
      kernels().steadiness(
        placeOf(samples),
        frames.length,
        CHUNK,
        count,
        ...places,
        placeOf(values),
        placeOf(spreads),
      )
      value.set(values.subarray(0, count), from)
      spread.set(spreads.subarray(0, count), from)
    }
  })
  const noise = Math.max(1, medianOf(spread) / MOST.deviations)
  const limit = 2 + SURE * MOST.deviations * noise
  return { value, known: spread.map((width) => (width <= limit ? 1 : 0)), noise }
}

/** Returns the median of values of small whole numbers, by counting them. */
function medianOf(values: Float32Array): number {
  const counts = new Uint32Array(256)
  for (const value of values) counts[value]++
  let seen = 0
  for (let value = 0; value < 256; value++) {
    seen += counts[value]
    if (seen * 2 >= values.length) return value
  }
  return 0
}

/** Level of the background at which it is asked how much of it is known. */
const ASKED = 2

/** Returns the mean of a grid over a square around a point, at one level of the pyramid; `half` is half its side in pixels. */
function meanAround(levels: readonly Grid[], at: Point, half: number): number {
  const each = 2 ** ASKED
  const { width, height, data } = levels[ASKED]
  const first = (middle: number) => Math.max(0, Math.floor((middle - half) / each))
  const end = (middle: number, most: number) => Math.min(most, Math.ceil((middle + half) / each))
  let [sum, count] = [0, 0]
  for (let row = first(at.y); row < end(at.y, height); row++)
    for (let column = first(at.x); column < end(at.x, width); column++, count++)
      sum += data[row * width + column]
  return count > 0 ? sum / count : 0
}

/**
 * Returns the share, 0 to 1, of a square around a point in which the background is known; `half` is half its side in
 * pixels.
 */
export const knownShare = ({ known }: Background, at: Point, half: number) => meanAround(known, at, half)

/** Returns the mean brightness of the background in a square around a point; `half` is half its side in pixels. */
export const meanLight = ({ value }: Background, at: Point, half: number) => meanAround(value, at, half)
