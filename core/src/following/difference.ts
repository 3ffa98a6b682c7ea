import type { Point } from '../geometry/index.ts'
import { floatList, kernels, placeOf, withArena } from '../kernels/index.ts'
import { median } from '../time/index.ts'
import type { Background } from './background.ts'
import {
  type Chroma,
  GREY,
  type Grid,
  gridLike,
  overlap,
  type Plane,
  partIn,
  partOf,
  type Rect,
  rectAround,
} from './grid.ts'

/** Expected square of a difference, in standard deviations, where nothing is: of brightness, and of all three channels. */
const NOISE_SQUARED = { light: 1, all: 3 }
/** Brightness of black in limited-range video. */
const BLACK = 16
/** Bytes that the kernels need at most for each pixel. */
const ROOM_A_PIXEL = 30

/** How a frame is compared with the background. */
export interface Comparison {
  /** Brightness of the frame over that of the background, where nothing is in front of it. */
  gain: number
  /**
   * Whether a pixel that is only darker, with the background's own colour, counts as no difference (chromaticity against
   * brightness distortion: Horprasert, Harwood and Davis, ICCV Frame-Rate Workshop, 1999).
   */
  ignoresShadows: boolean
}

/**
 * Returns the difference of a frame from the background in standard deviations of the noise, over brightness and
 * colours together; NaN where the background is unknown.
 */
export function differenceFrom(plane: Plane, background: Background, comparison: Comparison): Grid {
  const { value, known, noise, chroma } = background
  const { gain, ignoresShadows } = comparison
  const { width, height, data } = plane
  const count = width * height
  return withArena(ROOM_A_PIXEL * count + 2 ** 14, () => {
    const frame = placeOf(data)
    const behind = placeOf(partIn(value[0], plane).data)
    const to = floatList(count)
    const shades = ignoresShadows ? floatList(count) : null
    if (shades) kernels().shade(frame, behind, count, BLACK, gain, placeOf(shades))
    const colours =
      chroma && plane.chroma ? chromaDifference(plane, plane.chroma, chroma, shades && placeOf(shades)) : null
    kernels().difference(
      frame,
      behind,
      placeOf(partIn(known[0], plane).data),
      colours ? placeOf(colours) : 0,
      shades ? placeOf(shades) : 0,
      count,
      BLACK,
      gain,
      noise,
      colours ? NOISE_SQUARED.all : NOISE_SQUARED.light,
      placeOf(to),
    )
    return gridLike(plane, to.slice())
  })
}

/**
 * Squared difference of a plane's colours from the background's on each of its pixels, in deviations, in the kernels'
 * memory; 0 where that is not known.
 *
 * @param shades place of the shares of the background's light by which its colours are dimmed as well; null for none
 */
function chromaDifference(
  plane: Rect,
  chroma: Chroma,
  { blue, red, known, noise }: NonNullable<Background['chroma']>,
  shades: number | null,
): Float32Array {
  const rect = overlap(chroma, blue)
  const half = rect.width * rect.height
  const placeIn = (grid: Grid) => placeOf(partIn(grid, rect).data)
  const bytesIn = (bytes: Uint8Array) => placeOf(partOf({ ...chroma, data: bytes }, rect).data)
  const small = floatList(half)
  const left = shades === null ? null : floatList(half)
  const whole = [plane.x, plane.y, plane.width, plane.height]
  const halved = [rect.x, rect.y, rect.width, rect.height]
  if (shades !== null && left) kernels().halfMean(shades, ...whole, ...halved, placeOf(left))
  kernels().colourDifference(
    bytesIn(chroma.blue),
    bytesIn(chroma.red),
    placeIn(blue),
    placeIn(red),
    placeIn(known),
    left ? placeOf(left) : 0,
    half,
    GREY,
    noise,
    placeOf(small),
  )
  const large = floatList(plane.width * plane.height)
  const line = placeOf(floatList(rect.width))
  kernels().enlarge(placeOf(small), ...halved, ...whole, placeOf(large), line)
  return large
}

/** Range of gains that a lamp's flicker or an automatic exposure can have, and the width in which pixels agree on one. */
const GAINS = { least: 0.8, most: 1.25, step: 0.01 }
/** About as many pixels tell the gain; background darker than this says little of it. */
const SAMPLED = 1200
const DARK = 30
/** What a gain loses, as a share of its pixels, for each unit that it differs from 1. */
const UNLIKELY = 1.5

/**
 * Returns the gain of a frame over the background: the ratio of brightness on which most pixels with a known
 * background agree; 1 if none can be determined.
 */
export function gainOf(plane: Plane, { value, known }: Background): number {
  const [whole, sure] = [value[0], known[0]]
  const stride = Math.max(1, Math.round(Math.sqrt((plane.width * plane.height) / SAMPLED)))
  const counts = new Float32Array(Math.round((GAINS.most - GAINS.least) / GAINS.step) + 1)
  const ratios = new Float32Array(Math.ceil(plane.width / stride) * Math.ceil(plane.height / stride))
  let sampled = 0
  for (let row = 0; row < plane.height; row += stride)
    for (let column = 0; column < plane.width; column += stride) {
      const behind = (plane.y + row) * whole.width + plane.x + column
      if (sure.data[behind] < 0.5 || whole.data[behind] < DARK) continue
      const ratio = (plane.data[row * plane.width + column] - BLACK) / (whole.data[behind] - BLACK)
      const place = Math.round((ratio - GAINS.least) / GAINS.step)
      if (place < 0 || place >= counts.length) continue
      ratios[sampled++] = ratio
      for (let near = Math.max(0, place - 2); near <= Math.min(counts.length - 1, place + 2); near++)
        counts[near] += 3 - Math.abs(near - place)
    }
  let best = 1
  let most = 0
  counts.forEach((count, place) => {
    const gain = GAINS.least + GAINS.step * place
    const worth = count * (1 - UNLIKELY * Math.abs(gain - 1))
    if (worth > most) [best, most] = [gain, worth]
  })
  const agreeing = ratios.subarray(0, sampled).filter((ratio) => Math.abs(ratio - best) < 3 * GAINS.step)
  return agreeing.length > 0 ? median(agreeing) : 1
}

/** Distance from a point within which a body's own pixels are looked at, in pixels. */
const OWN = 5
/** Share of a body's differing pixels that must differ by more than a shadow does. */
const MORE_THAN_SHADOW = 0.6
/** Standard deviations above which a pixel differs. */
const DIFFERS = 4

/**
 * Both differences of a frame from the background, where what is at a point differs from it by more than a shadow would, so
 * that shadows beside it can be ignored; the plain one alone for a body that is itself a darker shade of the background's
 * colour, or where there are no colours.
 *
 * @param radius of the body, in pixels, if known
 */
export function differencesAt(
  plane: Plane,
  background: Background,
  gain: number,
  at: Point,
  radius = OWN,
): { plain: Grid; shadowless: Grid | null } {
  const plain = differenceFrom(plane, background, { gain, ignoresShadows: false })
  if (!plane.chroma || !background.chroma) return { plain, shadowless: null }
  const shadowless = differenceFrom(plane, background, { gain, ignoresShadows: true })
  const part = overlap(plane, rectAround(at, { x: radius, y: radius }, 1))
  let [all, kept] = [0, 0]
  for (let row = part.y; row < part.y + part.height; row++)
    for (let column = part.x; column < part.x + part.width; column++) {
      if (Math.hypot(column + 0.5 - at.x, row + 0.5 - at.y) > radius) continue
      const i = (row - plane.y) * plane.width + column - plane.x
      if (!(plain.data[i] > DIFFERS)) continue
      all++
      if (shadowless.data[i] > DIFFERS) kept++
    }
  return { plain, shadowless: all > 0 && kept > MORE_THAN_SHADOW * all ? shadowless : null }
}
