import { distance, type Point } from '../geometry/index.ts'
import { leastSquares } from '../regression/index.ts'
import { type ColourPicture, changeAlong, lineProfile, stepsOf, unitVector } from './lineProfile.ts'

/** Equal divisions that are seen along a line. */
export interface Divisions {
  count: number
  /** By how much the last division is shorter than the first, as a share of their mean; negative where it is longer. */
  shrinkage: number
  /** Standard error of the shrinkage. */
  shrinkageError: number
  /** Root mean square distance of the borders from equal divisions seen under that perspective, in pixels. */
  rms: number
}

const STEP = 0.5
const HALF_WIDTH = 1
/** Pixels beyond both ends that the profile needs. */
const BEYOND = 6
/** Fewest divisions that are told, and fewest pixels of one. */
const FEWEST = 4
const SHORTEST = 5
/** Borders change the colours so many times as much as what lies between them, and by so many levels a pixel. */
const CLEAR = 1.6
const LEAST_CHANGE = 4
/** Largest distance of a border from where equal divisions have it, as a share of a division. */
const UNEVEN = 0.15
/** Most shrinkage along a line that is still that of equal divisions. */
const MOST_SHRINKAGE = 0.5
/** A border within so many pixels of an end is that end. */
const END = 4

/**
 * Returns the equal divisions of a striped stick or a scale along the line between its ends: the places where the colours change, through
 * which equal divisions under perspective go, s = (s₀ + ak)/(1 + ck); null where there are no such divisions, or fewer than 4.
 *
 * @param picture at least 8 pixels beyond the line to each side
 */
export function findDivisions(picture: ColourPicture, from: Point, to: Point): Divisions | null {
  const length = distance(from, to)
  if (length < FEWEST * SHORTEST) return null
  const profile = lineProfile(
    picture,
    from,
    unitVector(from, to),
    [-BEYOND, length + BEYOND],
    STEP,
    HALF_WIDTH,
  )
  if (!profile) return null
  // A line that leads out of the picture is not seen whole.
  if (profile.places[0] > -BEYOND + END || profile.places[profile.places.length - 1] < length) return null
  const steps = stepsOf(changeAlong(profile), profile.places)
  const peaks = steps.filter(({ place }) => place > END && place < length - END)
  const least = leastOfBorders(peaks.map(({ size }) => size))
  if (least === null) return null
  const inner = peaks.filter(({ size }) => size >= least).map(({ place }) => place)
  const borders = [0, ...inner, length]
  return evenDivisions(borders)
}

/** Returns the least change of a border: above the widest gap between the sizes of changes; null if there is none. */
function leastOfBorders(sizes: readonly number[]): number | null {
  const sorted = [...sizes].sort((a, b) => b - a)
  let [least, widest]: [number | null, number] = [null, CLEAR]
  for (let i = FEWEST - 2; i < sorted.length && sorted[i] > LEAST_CHANGE; i++) {
    const gap = sorted[i] / Math.max(sorted[i + 1] ?? 0, LEAST_CHANGE / 2)
    if (gap > widest) [least, widest] = [sorted[i], gap]
  }
  return least
}

/** Returns the divisions between borders, the first and the last of which are the ends; null if they are not equal under any perspective. */
function evenDivisions(borders: readonly number[]): Divisions | null {
  const count = borders.length - 1
  if (count < FEWEST) return null
  const mean = borders[count] / count
  if (mean < SHORTEST) return null
  // Linear in s₀, a and c: s = s₀ + a k − c k s.
  const rows = borders.map((s, k) => Float64Array.of(1, k, -k * s))
  const { parameters, cofactors } = leastSquares(rows, borders)
  const [start, a, c] = parameters
  const at = (k: number) => (start + a * k) / (1 + c * k)
  const off = borders.map((s, k) => s - at(k))
  if (Math.max(...off.map(Math.abs)) > UNEVEN * mean) return null
  const rms = Math.sqrt(off.reduce((sum, one) => sum + one * one, 0) / off.length)
  const shrinkage = (at(1) - at(0) - (at(count) - at(count - 1))) / mean
  if (Math.abs(shrinkage) > MOST_SHRINKAGE) return null
  const scatter = Math.sqrt(off.reduce((sum, one) => sum + one * one, 0) / Math.max(1, off.length - 3))
  // Division k is about mean·(1 − 2ck) long, so the first and the last differ by 2c(N − 1).
  const shrinkageError = 2 * (count - 1) * Math.sqrt(cofactors[2][2]) * scatter
  return { count, shrinkage, shrinkageError, rms }
}
