import type { Point } from '../geometry/index.ts'
import { median } from '../time/index.ts'
import type { Background } from './background.ts'
import { GREY, type Grid, gridLike, overlap, type Plane, roughValueAt } from './grid.ts'

/** Expected square of a difference, in standard deviations, where nothing is: of brightness, and of all three channels. */
const NOISE_SQUARED = { light: 1, all: 3 }
/** Brightness of black in limited-range video. */
const BLACK = 16
/**
 * A shadow: share of the background's light that is left in the deepest, and from where on it counts as one; deviations by
 * which colours change in it at most, and from where on it counts as none.
 */
const SHADOW = { deepest: 0.5, sure: 0.58, colour: { least: 3, most: 6 } }

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
 * Difference of a frame from the background, in standard deviations of the noise, over brightness and colours together;
 * NaN where the background is not known.
 */
export function differenceFrom(
  plane: Plane,
  background: Background,
  { gain, ignoresShadows }: Comparison,
): Grid {
  const { value, known, noise, chroma } = background
  const [whole, sure] = [value[0], known[0]]
  const { x: left, y: top, width, height } = plane
  const data = new Float32Array(width * height)
  const shade = ignoresShadows ? shadeOf(plane, whole, gain) : null
  const colours = chroma && plane.chroma ? chromaDifference(plane.chroma, chroma, shade) : null
  const expected = colours ? NOISE_SQUARED.all : NOISE_SQUARED.light
  for (let row = 0, at = 0; row < height; row++)
    for (let column = 0; column < width; column++, at++) {
      const behind = (top + row) * whole.width + left + column
      if (sure.data[behind] < 0.5) {
        data[at] = Number.NaN
        continue
      }
      let light = (plane.data[at] - BLACK - gain * (whole.data[behind] - BLACK)) / noise
      const colour = colours ? roughValueAt(colours, (left + column + 0.5) / 2, (top + row + 0.5) / 2) : 0
      if (shade && light < 0) light *= 1 - shadowiness(shade.data[at], colour)
      data[at] = Math.sqrt(Math.max(0, light * light + colour - expected))
    }
  return { x: left, y: top, width, height, data }
}

/** How much a darker pixel looks like a shadow, 0 … 1, by its share of the background's light and its squared change of colour. */
function shadowiness(share: number, colour: number): number {
  const isLightEnough = (share - SHADOW.deepest) / (SHADOW.sure - SHADOW.deepest)
  const keepsColour = (SHADOW.colour.most - Math.sqrt(colour)) / (SHADOW.colour.most - SHADOW.colour.least)
  return Math.min(1, Math.max(0, isLightEnough)) * Math.min(1, Math.max(0, keepsColour))
}

/** Share of the background's light that each pixel has; 1 where it is as bright or brighter. */
function shadeOf(plane: Plane, whole: Grid, gain: number): Grid {
  const data = new Float32Array(plane.width * plane.height)
  for (let row = 0, at = 0; row < plane.height; row++)
    for (let column = 0; column < plane.width; column++, at++) {
      const behind = whole.data[(plane.y + row) * whole.width + plane.x + column]
      data[at] = Math.min(1, Math.max(0, (plane.data[at] - BLACK) / Math.max(1, gain * (behind - BLACK))))
    }
  return gridLike(plane, data)
}

/** Mean over the two by two pixels of which one is the upper left, as far as the grid goes. */
function meanShade({ x: left, y: top, width, height, data }: Grid, x: number, y: number): number {
  let [sum, count] = [0, 0]
  for (let row = Math.max(0, y - top); row < Math.min(height, y - top + 2); row++)
    for (let column = Math.max(0, x - left); column < Math.min(width, x - left + 2); column++, count++)
      sum += data[row * width + column]
  return count > 0 ? sum / count : 1
}

/**
 * Squared difference of the colours from the background's, in deviations; 0 where that is not known.
 *
 * @param shade share of the background's light by which its colours are dimmed as well; null for none
 */
function chromaDifference(
  plane: NonNullable<Plane['chroma']>,
  { blue, red, known, noise }: NonNullable<Background['chroma']>,
  shade: Grid | null,
): Grid {
  const rect = overlap(plane, blue)
  const data = new Float32Array(rect.width * rect.height)
  for (let row = 0, at = 0; row < rect.height; row++)
    for (let column = 0; column < rect.width; column++, at++) {
      const behind = (rect.y + row - blue.y) * blue.width + rect.x + column - blue.x
      const from = (rect.y + row - plane.y) * plane.width + rect.x + column - plane.x
      if (known.data[behind] < 0.5) continue
      const left = shade ? meanShade(shade, 2 * (rect.x + column), 2 * (rect.y + row)) : 1
      const b = (plane.blue[from] - GREY - left * (blue.data[behind] - GREY)) / noise
      const r = (plane.red[from] - GREY - left * (red.data[behind] - GREY)) / noise
      data[at] = b * b + r * r
    }
  return gridLike(rect, data)
}

/** Range of gains that a lamp's flicker or an automatic exposure can have, and the width in which pixels agree on one. */
const GAINS = { least: 0.8, most: 1.25, step: 0.01 }
/** About as many pixels tell the gain; background darker than this says little of it. */
const SAMPLED = 1200
const DARK = 30
/** What a gain loses, as a share of its pixels, for each unit that it differs from 1. */
const UNLIKELY = 1.5

/**
 * Gain of a frame over the background: the ratio of brightness on which most of the pixels agree that lie in front of a
 * known background. 1 if none can be told.
 */
export function gainOf(plane: Plane, { value, known }: Background): number {
  const [whole, sure] = [value[0], known[0]]
  const stride = Math.max(1, Math.round(Math.sqrt((plane.width * plane.height) / SAMPLED)))
  const counts = new Float32Array(Math.round((GAINS.most - GAINS.least) / GAINS.step) + 1)
  const ratios: number[] = []
  for (let row = 0; row < plane.height; row += stride)
    for (let column = 0; column < plane.width; column += stride) {
      const behind = (plane.y + row) * whole.width + plane.x + column
      if (sure.data[behind] < 0.5 || whole.data[behind] < DARK) continue
      const ratio = (plane.data[row * plane.width + column] - BLACK) / (whole.data[behind] - BLACK)
      const place = Math.round((ratio - GAINS.least) / GAINS.step)
      if (place < 0 || place >= counts.length) continue
      ratios.push(ratio)
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
  const agreeing = ratios.filter((ratio) => Math.abs(ratio - best) < 3 * GAINS.step)
  return agreeing.length > 0 ? median(agreeing) : 1
}

/** Distance from a point within which a body's own pixels are looked at, in pixels. */
const OWN = 5
/** Share of a body's differing pixels that must differ by more than a shadow does. */
const MORE_THAN_SHADOW = 0.6
/** Standard deviations above which a pixel differs. */
const DIFFERS = 4

/**
 * Returns true if what is at a point differs from the background by more than a shadow would, so that shadows beside it
 * can be ignored. False for a body that is itself a darker shade of the background's colour.
 *
 * @param radius of the body, in pixels, if known
 */
export function isMoreThanShadow(
  plane: Plane,
  background: Background,
  gain: number,
  at: Point,
  radius = OWN,
): boolean {
  if (!plane.chroma || !background.chroma) return false
  const [plain, shadowless] = [false, true].map((ignoresShadows) =>
    differenceFrom(plane, background, { gain, ignoresShadows }),
  )
  let [all, kept] = [0, 0]
  for (let row = 0, i = 0; row < plane.height; row++)
    for (let column = 0; column < plane.width; column++, i++) {
      if (Math.hypot(plane.x + column + 0.5 - at.x, plane.y + row + 0.5 - at.y) > radius) continue
      if (!(plain.data[i] > DIFFERS)) continue
      all++
      if (shadowless.data[i] > DIFFERS) kept++
    }
  return all > 0 && kept > MORE_THAN_SHADOW * all
}
