import type { Point } from '../geometry/index.ts'
import { median } from '../time/index.ts'
import { type Grid, overlap, rectAround, roughValueAt } from './grid.ts'
import { dilated, eroded } from './morphology.ts'
import type { Shape } from './shape.ts'

/** What of a frame covers a known background, by how much it differs from that in brightness or in colour. */

/** Less than so many deviations are no difference. */
const LEAST_DIFFERENCE = 4
/** Share of a body's usual difference below which what differs is not the body. */
const FAINT = 0.35
/** Pixels around one in which the largest difference counts as that of the body alone; for a rim that is faint, more. */
const NEIGHBOURS = { usual: 2, rim: 5 }
/** A rim: what differs by less than this share of the largest difference nearby, in a strip this narrow, in pixels. */
const RIM = { share: 0.35, half: 2 }

/**
 * Share of each pixel that something in front of the background covers, from its difference over the largest one nearby,
 * which is taken to be that of the body alone; 0 where nothing differs, NaN where the background is not known. A narrow
 * faint rim around something that differs more is what compressed colours bleed over its edge.
 *
 * @param contrast usual difference within the body, in deviations: what differs far less is a shadow, or left over from
 *   another frame by the compression; 0 where it is not known yet
 */
export function coverageOf(difference: Grid, contrast: number): Grid {
  const { width, height, data: values } = difference
  const largest = dilated(values, width, height, NEIGHBOURS.usual)
  const farther = dilated(values, width, height, NEIGHBOURS.rim)
  const faint = values.map((value, at) =>
    value > LEAST_DIFFERENCE && value < RIM.share * farther[at] ? 1 : 0,
  )
  // Faint parts of a patterned body are wider than a rim, and outlast an opening.
  const wide = dilated(eroded(faint, width, height, RIM.half), width, height, RIM.half)
  const data = values.map((value, at) => {
    if (Number.isNaN(value)) return value
    if (largest[at] < LEAST_DIFFERENCE) return 0
    const most = faint[at] > 0 && wide[at] === 0 ? farther[at] : largest[at]
    return value / Math.max(most, FAINT * contrast)
  })
  return { ...difference, data }
}

/**
 * A grid with its holes and bays closed up to a width (morphological closing: Serra, Image Analysis and Mathematical
 * Morphology, 1982): a pattern that is here and there like the background leaves holes in a silhouette.
 */
export function closed(grid: Grid, half: number): Grid {
  const { width, height } = grid
  const data = eroded(dilated(grid.data, width, height, half), width, height, half)
  // What is not known stays so.
  return { ...grid, data: data.map((value, at) => (Number.isNaN(grid.data[at]) ? Number.NaN : value)) }
}

/** What a frame shows within a shape. */
export interface Inside {
  /** Share of the known pixels that differ from the background; NaN where less than `KNOWN` of all are known. */
  share: number
  /** Median of their differences in deviations; NaN likewise. */
  contrast: number
  /** The difference that 95 % of them are below. */
  strongest: number
}

/** Share of a shape's pixels in front of a known background that tells something of the whole. */
export const KNOWN = 0.75

/**
 * How what a shape covers at a place differs from the background; `difference` is reduced to the shape.
 *
 * @param least deviations that a pixel must have to count as differing, if more than usual
 */
export function insideOf(
  difference: Grid,
  shape: Shape,
  { x, y, scale, turn }: Point & { scale: number; turn: number },
  least = 0,
): Inside {
  const each = 2 ** shape.level
  const [cos, sin] = [Math.cos(turn) / scale, Math.sin(turn) / scale]
  const middle = { x: x / each, y: y / each }
  let [differing, all] = [0, 0]
  const known: number[] = []
  const half = Math.hypot(shape.cover.width, shape.cover.height) * scale * 0.5
  const window = overlap(difference, rectAround(middle, { x: half, y: half }, 1))
  const [top, left] = [window.y - difference.y, window.x - difference.x]
  for (let row = top; row < top + window.height; row++)
    for (let column = left; column < left + window.width; column++) {
      const [dx, dy] = [difference.x + column + 0.5 - middle.x, difference.y + row + 0.5 - middle.y]
      const cover = roughValueAt(shape.cover, cos * dx + sin * dy, cos * dy - sin * dx)
      if (cover < 0.9) continue
      all++
      const value = difference.data[row * difference.width + column]
      if (Number.isNaN(value)) continue
      known.push(value)
      if (value > Math.max(LEAST_DIFFERENCE / 2, least)) differing++
    }
  if (known.length <= KNOWN * all) return { share: Number.NaN, contrast: Number.NaN, strongest: Number.NaN }
  known.sort((a, b) => a - b)
  return {
    share: differing / known.length,
    contrast: median(known),
    strongest: known[Math.floor(0.95 * (known.length - 1))],
  }
}
