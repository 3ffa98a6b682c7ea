import type { Grid } from '../following/index.ts'
import { cornerStrengths, type Point } from '../geometry/index.ts'

/** Corners are at least this far apart, in pixels. */
const APART = 4
/** The picture is divided into so many cells; each has at most `PER_CELL` corners, so that they are spread. */
const CELLS = { across: 10, down: 7 }
const PER_CELL = 5
/** Share of the square around a corner that must be known: single pixels of film grain or compression often are not. */
const LEAST_KNOWN = 0.85
/** Least smaller eigenvalue of the mean structure tensor, in variances of the noise. */
const LEAST_TEXTURE = 6

/**
 * Returns points of a picture at which its brightness changes in every direction: local maxima of the smaller eigenvalue of the
 * structure tensor (`cornerStrengths`), the strongest ones of each part of the picture. In pixels of the grid.
 *
 * @param known share of each pixel that is known, 0 to 1
 * @param noise standard deviation of the picture's noise
 * @param margin distance from the border and from what is not known, in pixels
 */
export function cornersOf(picture: Grid, known: Grid, noise: number, margin: number): Point[] {
  const { width, height } = picture
  const strengths = cornerStrengths(picture)
  const least = LEAST_TEXTURE * Math.max(1, noise) ** 2
  const knownBefore = summed(known)
  const area = (2 * margin + 1) ** 2
  const isKnownAround = (x: number, y: number) =>
    knownBefore(x + margin + 1, y + margin + 1) -
      knownBefore(x - margin, y + margin + 1) -
      knownBefore(x + margin + 1, y - margin) +
      knownBefore(x - margin, y - margin) >=
    LEAST_KNOWN * area
  const cells = Array.from({ length: CELLS.across * CELLS.down }, (): { at: Point; strength: number }[] => [])
  for (let y = margin; y < height - margin; y++)
    for (let x = margin; x < width - margin; x++) {
      const strength = strengths[y * width + x]
      if (strength < least || !isLargest(strengths, width, x, y) || !isKnownAround(x, y)) continue
      const cell =
        Math.floor((CELLS.down * y) / height) * CELLS.across + Math.floor((CELLS.across * x) / width)
      cells[cell].push({ at: { x: x + 0.5, y: y + 0.5 }, strength })
    }
  return cells.flatMap((corners) =>
    corners
      .sort((a, b) => b.strength - a.strength)
      .slice(0, PER_CELL)
      .map(({ at }) => at),
  )
}

/** Returns true if no pixel nearby is larger; of equal ones the first counts. */
function isLargest(values: Float32Array, width: number, x: number, y: number): boolean {
  const at = y * width + x
  for (let dy = -APART; dy <= APART; dy++)
    for (let dx = -APART; dx <= APART; dx++) {
      const other = at + dy * width + dx
      if (other < 0 || other >= values.length || other === at) continue
      if (values[other] > values[at] || (values[other] === values[at] && other < at)) return false
    }
  return true
}

/** Returns the sum over the pixels left of and above a place, as a function (a summed-area table). */
function summed({ width, height, data }: Grid): (x: number, y: number) => number {
  const sums = new Float64Array((width + 1) * (height + 1))
  for (let y = 0; y < height; y++) {
    let row = 0
    for (let x = 0; x < width; x++) {
      row += data[y * width + x]
      sums[(y + 1) * (width + 1) + x + 1] = sums[y * (width + 1) + x + 1] + row
    }
  }
  return (x, y) => sums[y * (width + 1) + x]
}
