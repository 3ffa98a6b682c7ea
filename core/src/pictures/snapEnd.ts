import type { Point } from '../geometry/index.ts'
import { MAD_TO_DEVIATION, median } from '../time/index.ts'
import {
  CHANNELS,
  type ColourPicture,
  changeAlong,
  type LineProfile,
  lineProfile,
  type ProfileChange,
  type Step,
  stepsOf,
  unitVector,
} from './lineProfile.ts'

/** An end of a line that was moved to where the picture changes, with its standard error along the line, in pixels. */
export interface SnappedEnd extends Point {
  error: number
}

/** Farthest that an end is moved along its line, in pixels. */
export const SNAP_REACH = 8

/** Spacing of the profile's places, pixels to each side that are averaged, and pixels beyond the reach that a step is fitted to. */
const STEP = 0.5
const HALF_WIDTH = 2
const BEYOND = 7
/**
 * Least change in levels a pixel, and least ratio to the change that is usual along the profile and to the most marked one within the
 * reach, that is a step.
 */
const LEAST_CHANGE = 4
const LEAST_RATIO = 3
const LEAST_SHARE = 0.4
/** Widest dot or nail, and widest line of a scale, whose middle is meant, in pixels. */
const WIDEST_DOT = 16
const WIDEST_LINE = 4
/** Least similarity of the two steps of a dot: the cosine between their changes of colour, and the ratio of their sizes. */
const OPPOSITE = 0.85
const ALIKE = 0.6
/** More edges within the reach than these are lines of a fine scale: which of them is meant can't be told. */
const MOST_EDGES = 4
/** Least change on each line of pixels along the end, as a share of their mean, and how far it may lie before or behind, in pixels. */
const STRAIGHT = { share: 0.45, within: 1.5 }
/** Standard error of the middle of a dot or a line on a clean picture. */
const MIDDLE_FLOOR = 0.1
/** Pixels to each side of a step that it is fitted to. */
const WINDOW = 5
/** Pixels by which a fitted step may differ from the place of the largest change. */
const FARTHEST = WINDOW / 2
/** Standard error that remains on a clean picture: its pixels, an end that is not cut square, the curve of the light's levels. */
const FLOOR = 0.06

/**
 * Returns an end of a line at the nearest place along the line, at most 8 pixels away, where the picture's colours change clearly: at an
 * edge, to which a step blurred by a Gaussian is fitted, or in the middle of a dot, a nail or a line of a scale, which is where the
 * colours change and change back. Null where nothing stands out, where many lines do, and where the edge does not go straight across.
 *
 * @param picture around the end, 28 pixels to each side; less where the picture ends
 * @param end as it was placed
 * @param other the other end
 */
export function snapEnd(picture: ColourPicture, end: Point, other: Point): SnappedEnd | null {
  const direction = unitVector(other, end)
  const far = SNAP_REACH + WIDEST_DOT / 2 + BEYOND
  const profile = lineProfile(picture, end, direction, [-far, far], STEP, HALF_WIDTH)
  if (!profile || profile.places.length < 2 * BEYOND) return null
  const places = candidates(profile).filter(({ place }) => Math.abs(place) <= SNAP_REACH)
  if (places.length === 0) return null
  const nearest = places.reduce((best, one) => (Math.abs(best.place) <= Math.abs(one.place) ? best : one))
  const lines = Array.from({ length: 2 * HALF_WIDTH + 1 }, (_, i) => {
    const side = i - HALF_WIDTH
    const origin = { x: end.x - side * direction.y, y: end.y + side * direction.x }
    const line = lineProfile(picture, origin, direction, [-far, far], STEP, 0)
    return line && { places: line.places, size: changeAlong(line).size }
  })
  if (!nearest.edges.every((edge) => isStraight(lines, edge))) return null
  return {
    x: end.x + nearest.place * direction.x,
    y: end.y + nearest.place * direction.y,
    error: nearest.error,
  }
}

/** A place along a profile with its standard error, and the edges by which it was found. */
interface Place {
  place: number
  error: number
  edges: readonly number[]
}

/** Returns true if each line of pixels beside each other changes about as much near a place. */
function isStraight(
  lines: readonly ({ places: Float64Array; size: Float64Array } | null)[],
  place: number,
): boolean {
  const sizes = lines.map((line) =>
    line
      ? Math.max(0, ...line.size.filter((_, i) => Math.abs(line.places[i] - place) <= STRAIGHT.within))
      : 0,
  )
  const mean = sizes.reduce((sum, one) => sum + one, 0) / sizes.length
  return sizes.every((size) => size >= STRAIGHT.share * mean)
}

/** Returns where an end may be meant: the middles of dots and lines, and other steps; nothing on a fine scale. */
function candidates(profile: LineProfile): Place[] {
  const change = changeAlong(profile)
  const usual = Float64Array.from(change.size).sort()[change.size.length >> 1]
  const all = stepsOf(change, profile.places)
  const most = Math.max(
    0,
    ...all.filter(({ place }) => Math.abs(place) <= SNAP_REACH).map(({ size }) => size),
  )
  const least = Math.max(LEAST_CHANGE, LEAST_RATIO * usual, LEAST_SHARE * most)
  const steps = all.filter(({ size }) => size >= least)
  if (steps.filter(({ place }) => Math.abs(place) <= SNAP_REACH).length > MOST_EDGES) return []
  const noise = noiseOf(profile)
  const places: Place[] = []
  for (let i = 0; i < steps.length; i++) {
    const next = steps[i + 1]
    if (next && isBand(change, steps, i)) {
      const error = Math.hypot(MIDDLE_FLOOR, noise / (steps[i].size + next.size))
      const edges = [steps[i].place, next.place]
      places.push({ place: (edges[0] + edges[1]) / 2, error, edges })
      i++
      continue
    }
    // What is fitted farther away does not come within the reach.
    const isNear = Math.abs(steps[i].place) <= SNAP_REACH + FARTHEST
    const fitted = isNear ? fitStep(profile, steps[i].place) : null
    if (fitted)
      places.push({
        place: fitted.place,
        error: Math.hypot(FLOOR, fitted.error),
        edges: [fitted.place],
      })
  }
  return places
}

/** Returns true if a step and the next are the two sides of a line, or of a dot that stands alone. */
function isBand({ slopes }: ProfileChange, steps: readonly Step[], i: number): boolean {
  const [one, other] = [steps[i], steps[i + 1]]
  const apart = other.place - one.place
  if (apart > WIDEST_DOT) return false
  const product = slopes.reduce((sum, slope) => sum + slope[one.index] * slope[other.index], 0)
  const isBack = -product > OPPOSITE * one.size * other.size
  const isAlike = Math.min(one.size, other.size) > ALIKE * Math.max(one.size, other.size)
  if (!isBack || !isAlike) return false
  const [before, after] = [steps[i - 1], steps[i + 2]]
  const isAlone =
    (!before || one.place - before.place > apart) && (!after || after.place - other.place > apart)
  return apart <= WIDEST_LINE || isAlone
}

/** Returns the standard deviation of a profile's noise in levels, by its second differences a pixel apart (median absolute deviation). */
function noiseOf({ channels }: LineProfile): number {
  const each = Math.round(1 / STEP)
  const bends = channels.flatMap((channel) =>
    Array.from({ length: Math.max(0, channel.length - 2 * each) }, (_, i) =>
      Math.abs(channel[i] - 2 * channel[i + each] + channel[i + 2 * each]),
    ),
  )
  return (MAD_TO_DEVIATION * median(bends)) / Math.sqrt(6)
}

/** Widths of a step's blur that are tried first, in pixels. */
const WIDTHS = [0.6, 1, 1.6, 2.6]
const MOST_STEPS = 30

/**
 * Fits a + b Φ((s − s₀)/w), with levels a and b of each channel and one place and one width for all, by Gauss-Newton steps with the
 * levels eliminated; returns s₀ and its standard error by the scatter that is left, where values a pixel apart are independent.
 */
function fitStep(profile: LineProfile, near: number): { place: number; error: number } | null {
  const rows = [...profile.places.keys()].filter((i) => Math.abs(profile.places[i] - near) <= WINDOW)
  const places = rows.map((i) => profile.places[i])
  const values = profile.channels.map((channel) => rows.map((i) => channel[i]))
  let best: ReturnType<typeof refine> = null
  for (const width of WIDTHS) {
    const fit = refine(places, values, near, width)
    if (fit && (!best || fit.rss < best.rss)) best = fit
  }
  if (!best) return null
  const { place, rss, information } = best
  const pixels = places.length * STEP
  // Two levels a channel, a place and a width.
  const freedom = Math.max(1, CHANNELS * pixels - 2 * CHANNELS - 2)
  const variance = (rss * STEP) / freedom
  return { place, error: Math.sqrt(variance / (information * STEP)) }
}

function refine(places: number[], values: number[][], near: number, start: number) {
  let [place, width] = [near, start]
  let here = residuals(places, values, place, width)
  for (let n = 0; n < MOST_STEPS; n++) {
    const { step, rss } = here
    if (!step) return null
    let isBetter = false
    // A step that makes it worse is halved.
    for (let share = 1; share > 1e-3 && !isBetter; share /= 2) {
      const [at, wide] = [place + share * step.place, Math.max(0.2, width + share * step.width)]
      const there = residuals(places, values, at, wide)
      isBetter = there.rss < rss
      if (isBetter) [place, width, here] = [at, wide, there]
    }
    if (!isBetter || rss - here.rss < 1e-9 * here.rss) break
  }
  const isFar = Math.abs(place - near) > FARTHEST || width > WINDOW
  return isFar ? null : { place, width, rss: here.rss, information: here.information }
}

/** Returns the squared residuals of a step with its best levels, the Gauss-Newton step, and Σ(∂/∂s₀)² of all channels. */
function residuals(places: number[], values: number[][], place: number, width: number) {
  const n = places.length
  const z = places.map((s) => (s - place) / width)
  const rise = z.map(normalDistribution)
  const bell = z.map((one) => Math.exp((-one * one) / 2) / Math.sqrt(2 * Math.PI))
  const mean = (list: number[]) => list.reduce((sum, one) => sum + one, 0) / n
  const middle = mean(rise)
  const spread = rise.reduce((sum, one) => sum + (one - middle) ** 2, 0)
  let [rss, pp, pw, ww, gp, gw] = [0, 0, 0, 0, 0, 0]
  for (const channel of values) {
    const level = mean(channel)
    const b = channel.reduce((sum, value, i) => sum + (value - level) * (rise[i] - middle), 0) / spread
    // Derivatives by place and width, freed of what the levels take up.
    const byPlace = freed(
      bell.map((one) => (-b * one) / width),
      rise,
      middle,
      spread,
    )
    const byWidth = freed(
      bell.map((one, i) => (-b * one * z[i]) / width),
      rise,
      middle,
      spread,
    )
    channel.forEach((value, i) => {
      const left = value - level - b * (rise[i] - middle)
      rss += left * left
      pp += byPlace[i] ** 2
      pw += byPlace[i] * byWidth[i]
      ww += byWidth[i] ** 2
      gp += byPlace[i] * left
      gw += byWidth[i] * left
    })
  }
  const determinant = pp * ww - pw * pw
  const information = ww > 0 ? pp - (pw * pw) / ww : pp
  const step =
    determinant > 1e-12 * (pp + ww) ** 2
      ? { place: (gp * ww - gw * pw) / determinant, width: (gw * pp - gp * pw) / determinant }
      : null
  return { rss, information, step }
}

/** Returns a derivative without its mean and without what the levels of a step take up. */
function freed(derivative: number[], rise: number[], middle: number, spread: number): number[] {
  const mean = derivative.reduce((sum, one) => sum + one, 0) / derivative.length
  const share = derivative.reduce((sum, one, i) => sum + one * (rise[i] - middle), 0) / spread
  return derivative.map((one, i) => one - mean - share * (rise[i] - middle))
}

/** Returns Φ(z), to 1.5·10⁻⁷ (Abramowitz and Stegun, Handbook of Mathematical Functions, 7.1.26). */
function normalDistribution(z: number): number {
  const x = Math.abs(z) / Math.SQRT2
  const t = 1 / (1 + 0.3275911 * x)
  const tail =
    t *
    (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429)))) *
    Math.exp(-x * x)
  return z >= 0 ? 1 - tail / 2 : tail / 2
}
