import type { Grid } from '../following/index.ts'
import { distance, type Point } from '../geometry/index.ts'

/** Where a corner may be in another picture, and how well it fits there. */
export interface Candidate {
  at: Point
  /** Zero-mean normalised cross-correlation, at most 1. */
  score: number
}

/** Half the side of the square that is compared, in pixels. */
export const HALF = 7
const SIDE = 2 * HALF + 1
/** Candidates of a corner that are kept, and how far they lie apart in pixels. */
const MOST_CANDIDATES = 3
const APART = 3

/**
 * Returns the places of another picture that look like the square around a corner, best first: maxima of the zero-mean normalised
 * cross-correlation, which does not feel brightness and contrast. In pixels of the grids.
 *
 * @param around centre of the search, in the other picture
 * @param reach how far is searched each way, in pixels
 * @param least least score of a candidate
 * @param step pixels between places that are compared; maxima between them are found if their score is `least` beside them, too
 */
export function candidatesFor(
  picture: Grid,
  corner: Point,
  other: Grid,
  around: Point,
  reach: number,
  least: number,
  step = 1,
): Candidate[] {
  const template = normalisedSquare(picture, corner)
  const [middleX, middleY] = [Math.floor(around.x), Math.floor(around.y)]
  const found: Candidate[] = []
  const [left, right] = [Math.max(HALF, middleX - reach), Math.min(other.width - 1 - HALF, middleX + reach)]
  const [top, bottom] = [Math.max(HALF, middleY - reach), Math.min(other.height - 1 - HALF, middleY + reach)]
  for (let y = top; y <= bottom; y += step)
    for (let x = left; x <= right; x += step) {
      const score = correlation(template, other, x, y)
      if (score >= least) found.push({ at: { x: x + 0.5, y: y + 0.5 }, score })
    }
  found.sort((a, b) => b.score - a.score)
  const kept: Candidate[] = []
  for (const candidate of found) {
    if (kept.length === MOST_CANDIDATES) break
    if (kept.every(({ at }) => distance(at, candidate.at) > APART)) kept.push(candidate)
  }
  if (step === 1) return kept.map(({ at, score }) => ({ at: peakAround(template, other, at), score }))
  return kept
    .flatMap(({ at }) => candidatesFor(picture, corner, other, at, step, least).slice(0, 1))
    .sort((a, b) => b.score - a.score)
}

/** Returns the maximum of the parabolas through the correlation at a pixel and its neighbours. */
function peakAround(template: Float32Array, other: Grid, at: Point): Point {
  const [x, y] = [Math.floor(at.x), Math.floor(at.y)]
  const isInside = (px: number, py: number) =>
    px >= HALF && py >= HALF && px < other.width - HALF && py < other.height - HALF
  const score = (px: number, py: number) =>
    isInside(px, py) ? correlation(template, other, px, py) : Number.NaN
  const top = (before: number, middle: number, after: number) => {
    const place = (after - before) / (2 * (2 * middle - before - after))
    return Math.abs(place) <= 1 ? place : 0
  }
  const middle = score(x, y)
  return {
    x: at.x + top(score(x - 1, y), middle, score(x + 1, y)),
    y: at.y + top(score(x, y - 1), middle, score(x, y + 1)),
  }
}

/** Returns the square around a corner, less its mean and divided by its norm. */
function normalisedSquare({ width, data }: Grid, corner: Point): Float32Array {
  const [left, top] = [Math.floor(corner.x) - HALF, Math.floor(corner.y) - HALF]
  const square = new Float32Array(SIDE * SIDE)
  for (let row = 0; row < SIDE; row++)
    square.set(data.subarray((top + row) * width + left, (top + row) * width + left + SIDE), row * SIDE)
  const mean = square.reduce((sum, value) => sum + value, 0) / square.length
  const norm = Math.sqrt(square.reduce((sum, value) => sum + (value - mean) ** 2, 0))
  return square.map((value) => (value - mean) / norm)
}

/** Returns the correlation of a normalised square with the one around a pixel. */
function correlation(template: Float32Array, { width, data }: Grid, x: number, y: number): number {
  let [sum, squares, products] = [0, 0, 0]
  for (let row = 0, i = 0; row < SIDE; row++) {
    const from = (y - HALF + row) * width + x - HALF
    for (let at = from; at < from + SIDE; at++, i++) {
      const value = data[at]
      sum += value
      squares += value * value
      products += template[i] * value
    }
  }
  const spread = squares - (sum * sum) / SIDE ** 2
  return spread > 0 ? products / Math.sqrt(spread) : 0
}
