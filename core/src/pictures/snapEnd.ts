import type { Point } from '../geometry/index.ts'
import {
  CHANNELS,
  type ColourPicture,
  changeAlong,
  type LineProfile,
  lineProfile,
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
/** Places between ends and steps that are nearer count more: a Gaussian of so many pixels. */
const NEARNESS = 4
/** Least change in levels a pixel, and least ratio to the change that is usual along the profile, that is a step. */
const LEAST_CHANGE = 4
const LEAST_RATIO = 3
/** Pixels to each side of a step that it is fitted to. */
const WINDOW = 5
/** Standard error that remains on a clean picture: its pixels, an end that is not cut square, the curve of the light's levels. */
const FLOOR = 0.06

/**
 * Returns an end of a line at the place along the line where the picture's colours change most, at most 8 pixels away: a step that is
 * blurred by a Gaussian is fitted to the colours around it. Null where nothing stands out, or at the border of the picture.
 *
 * @param picture around the end, 16 pixels to each side
 * @param end as it was placed
 * @param other the other end
 */
export function snapEnd(picture: ColourPicture, end: Point, other: Point): SnappedEnd | null {
  const direction = unitVector(other, end)
  const profile = lineProfile(
    picture,
    end,
    direction,
    [-SNAP_REACH - BEYOND, SNAP_REACH + BEYOND],
    STEP,
    HALF_WIDTH,
  )
  const peak = profile && strongestStep(profile)
  if (profile === null || peak === null) return null
  const step = fitStep(profile, profile.places[peak])
  if (!step || Math.abs(step.place) > SNAP_REACH) return null
  return {
    x: end.x + step.place * direction.x,
    y: end.y + step.place * direction.y,
    error: Math.hypot(FLOOR, step.error),
  }
}

/** Returns the index of the most marked step within the reach, nearer ones first; null if nothing stands out. */
function strongestStep(profile: LineProfile): number | null {
  const { places } = profile
  const change = changeAlong(profile)
  const inner = change.filter((_, i) => Math.abs(places[i]) <= SNAP_REACH + BEYOND - 3)
  const usual = Float64Array.from(inner).sort()[inner.length >> 1]
  let best: number | null = null
  let most = 0
  for (let i = 1; i < places.length - 1; i++) {
    const isPeak = change[i] >= change[i - 1] && change[i] > change[i + 1]
    if (!isPeak || Math.abs(places[i]) > SNAP_REACH) continue
    if (change[i] < LEAST_CHANGE || change[i] < LEAST_RATIO * usual) continue
    const weighted = change[i] * Math.exp(-(places[i] ** 2) / (2 * NEARNESS * NEARNESS))
    if (weighted > most) [best, most] = [i, weighted]
  }
  return best
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
  let best: { place: number; width: number; rss: number } | null = null
  for (const width of WIDTHS) {
    const fit = refine(places, values, near, width)
    if (fit && (!best || fit.rss < best.rss)) best = fit
  }
  if (!best) return null
  const { place, width, rss } = best
  const { information } = residuals(places, values, place, width)
  const pixels = places.length * STEP
  // Two levels a channel, a place and a width.
  const freedom = Math.max(1, CHANNELS * pixels - 2 * CHANNELS - 2)
  const variance = (rss * STEP) / freedom
  return { place, error: Math.sqrt(variance / (information * STEP)) }
}

function refine(places: number[], values: number[][], near: number, start: number) {
  let [place, width] = [near, start]
  let { rss } = residuals(places, values, place, width)
  for (let n = 0; n < MOST_STEPS; n++) {
    const step = residuals(places, values, place, width).step
    if (!step) return null
    let share = 1
    let next = null
    // A step that makes it worse is halved.
    for (; share > 1e-3; share /= 2) {
      const [at, wide] = [place + share * step.place, Math.max(0.2, width + share * step.width)]
      const there = residuals(places, values, at, wide)
      if (there.rss < rss) {
        next = { at, wide, rss: there.rss }
        break
      }
    }
    if (!next) break
    const gain = rss - next.rss
    ;[place, width, rss] = [next.at, next.wide, next.rss]
    if (gain < 1e-9 * rss) break
  }
  return Math.abs(place - near) > WINDOW / 2 || width > WINDOW ? null : { place, width, rss }
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
  let [rss, information, pp, pw, ww, gp, gw] = [0, 0, 0, 0, 0, 0, 0]
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
  information = ww > 0 ? pp - (pw * pw) / ww : pp
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
