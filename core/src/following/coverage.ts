import type { Point } from '../geometry/index.ts'
import { floatList, kernels, placeOf, withArena } from '../kernels/index.ts'
import { type Background, knownShare } from './background.ts'
import { type Grid, gridLike, overlap, rectAround, roughValueAt } from './grid.ts'
import { extremeBytes } from './morphology.ts'
import type { Shape } from './shape.ts'

/** What of a frame covers a known background, by how much it differs from that in brightness or in colour. */

/** Less than so many deviations are no difference. */
const LEAST_DIFFERENCE = 4
/** Share of a body's typical difference below which what differs is not the body. */
const FAINT = 0.35
/** Pixels around one in which the largest difference counts as that of the body alone; for a rim that is faint, more. */
const NEIGHBOURS = { typical: 2, rim: 5 }

/**
 * Returns the share of each pixel that something in front of the background covers, from its difference over the largest one nearby,
 * which is taken to be that of the body alone; 0 where nothing differs, NaN where the background is not known. A narrow
 * faint rim around something that differs more is what compressed colours bleed over its edge.
 *
 * @param contrast usual difference within the body, in deviations: what differs far less is a shadow, or left over from
 *   another frame by the compression; 0 where it is not known yet
 * @param streak length of the body's smear in pixels of the grid, where that is known: the body itself is to be seen at
 *   most half of it away
 */
export function coverageOf(difference: Grid, contrast: number, streak = 0): Grid {
  const { width, height, data } = difference
  const near = NEIGHBOURS.typical + Math.round(streak / 2)
  const far = Math.max(NEIGHBOURS.rim, near)
  const room = 4 * (data.length + 4) + extremeBytes(width, height, far)
  return withArena(4 * (2 * data.length + room) + 1024, () => {
    const to = floatList(data.length)
    const places = [placeOf(to), placeOf(floatList(room))]
    kernels().cover(placeOf(data), width, height, near, far, FAINT * contrast, ...places)
    return gridLike(difference, to.slice())
  })
}

/** Pixels of a frame within a shape. */
export interface Inside {
  /** Share of the known pixels that differ from the background; NaN where less than `KNOWN` of all are known. */
  share: number
  /** Median of their differences in deviations; NaN likewise. */
  contrast: number
}

/** Share of a shape's pixels with a known background that is enough to judge the whole. */
const KNOWN = 0.75

/** Returns true if most of what is behind a body at a place is known; `half` is half its width in pixels. */
export const isKnownBehind = (background: Background, at: Point, half: number) =>
  knownShare(background, at, half) > KNOWN

/**
 * Returns how what a shape covers at a place differs from the background; `difference` is reduced to the shape.
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
  let [differing, all, count] = [0, 0, 0]
  const half = Math.hypot(shape.cover.width, shape.cover.height) * scale * 0.5
  const window = overlap(difference, rectAround(middle, { x: half, y: half }, 1))
  const values = new Float32Array(window.width * window.height)
  const [top, left] = [window.y - difference.y, window.x - difference.x]
  for (let row = top; row < top + window.height; row++)
    for (let column = left; column < left + window.width; column++) {
      const [dx, dy] = [difference.x + column + 0.5 - middle.x, difference.y + row + 0.5 - middle.y]
      const cover = roughValueAt(shape.cover, cos * dx + sin * dy, cos * dy - sin * dx)
      if (cover < 0.9) continue
      all++
      const value = difference.data[row * difference.width + column]
      if (Number.isNaN(value)) continue
      values[count++] = value
      if (value > Math.max(LEAST_DIFFERENCE / 2, least)) differing++
    }
  if (count <= KNOWN * all) return { share: Number.NaN, contrast: Number.NaN }
  const known = values.subarray(0, count).sort()
  return {
    share: differing / count,
    contrast: (known[(count - 1) >> 1] + known[count >> 1]) / 2,
  }
}
