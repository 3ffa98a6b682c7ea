import type { Point } from '../geometry/index.ts'
import { floatList, kernels, placeOf, wholeList } from '../kernels/index.ts'

/** Approximate distance in pixels between two instants of an exposure. */
export const STEP = 1.5

/**
 * Returns values on a grid averaged along a line, each instant with the same weight, in the kernels' memory. Beyond
 * the border the grid continues with its border values.
 *
 * @param smear way in the grid's pixels
 * @param steps instants that it is made of
 */
export function smearedAlong(
  data: Float32Array,
  width: number,
  height: number,
  smear: Point,
  steps = Math.min(16, Math.ceil(Math.hypot(smear.x, smear.y) / STEP) + 1),
): Float32Array {
  const taps = tapsAlong(smear, steps)
  const list = wholeList(3 * taps.length)
  const weights = new Float32Array(list.buffer, list.byteOffset, list.length)
  taps.forEach(({ dx, dy, weight }, k) => {
    list[3 * k] = dx
    list[3 * k + 1] = dy
    weights[3 * k + 2] = weight
  })
  const to = floatList(data.length)
  kernels().smear(placeOf(data), placeOf(to), width, height, placeOf(list), taps.length)
  return to
}

/** Whole pixels whose weighed sum is the mean along a line through the middle, between pixels by their nearest four. */
function tapsAlong(smear: Point, steps: number): { dx: number; dy: number; weight: number }[] {
  const taps = new Map<number, { dx: number; dy: number; weight: number }>()
  const add = (dx: number, dy: number, weight: number) => {
    const key = 4096 * dy + dx
    const tap = taps.get(key)
    if (tap) tap.weight += weight
    else taps.set(key, { dx, dy, weight })
  }
  for (let k = 0; k < steps; k++) {
    const share = (k + 0.5) / steps - 0.5
    const [x, y] = [-share * smear.x, -share * smear.y]
    const [left, top] = [Math.floor(x), Math.floor(y)]
    const [du, dv] = [x - left, y - top]
    add(left, top, ((1 - du) * (1 - dv)) / steps)
    add(left + 1, top, (du * (1 - dv)) / steps)
    add(left, top + 1, ((1 - du) * dv) / steps)
    add(left + 1, top + 1, (du * dv) / steps)
  }
  return [...taps.values()].filter(({ weight }) => weight > 1e-6)
}
