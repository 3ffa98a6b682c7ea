import { MAD_TO_DEVIATION, median } from '../time/index.ts'
import type { Luma } from './luma.ts'

/** Side of the blocks that two pictures are compared in, in small pixels. */
const BLOCK = 8

/** How a frame differs from the one before it. Brightness on the scale of 0 to 255. */
export interface Difference {
  /** Largest mean change of a block: what moves shows here, however small it is. */
  change: number
  /** Largest change of a block that noise alone explains: median of the blocks and six of their scaled deviations. */
  noise: number
  /** Share of the blocks in which nothing changes at all. */
  still: number
  /** Middle of what changes, as a share of width and height; NaN where nothing does. */
  x: number
  y: number
  /** Share of the blocks that change by more than noise. */
  area: number
}

/** Mean absolute change of every block between two pictures of one size. */
function blockChanges(a: Luma, b: Luma): { across: number; values: Float64Array } {
  const across = Math.max(1, Math.floor(a.width / BLOCK))
  const down = Math.max(1, Math.floor(a.height / BLOCK))
  const values = new Float64Array(across * down)
  const [wide, high] = [Math.min(BLOCK, a.width), Math.min(BLOCK, a.height)]
  for (let row = 0; row < down; row++)
    for (let column = 0; column < across; column++) {
      let sum = 0
      for (let dy = 0; dy < high; dy++) {
        const start = (row * BLOCK + dy) * a.width + column * BLOCK
        for (let at = start; at < start + wide; at++) sum += Math.abs(a.data[at] - b.data[at])
      }
      values[row * across + column] = sum / (wide * high)
    }
  return { across, values }
}

/** Compares a frame with the one before it. */
export function differenceOf(before: Luma, frame: Luma): Difference {
  const { across, values } = blockChanges(before, frame)
  const middle = median(values)
  const deviation = MAD_TO_DEVIATION * median(values.map((value) => Math.abs(value - middle)))
  const noise = middle + 6 * deviation
  let change = 0
  let still = 0
  let weight = 0
  let x = 0
  let y = 0
  let moved = 0
  const down = values.length / across
  values.forEach((value, block) => {
    change = Math.max(change, value)
    if (value === 0) still++
    if (value <= Math.max(noise, LEAST_CHANGE)) return
    moved++
    weight += value
    x += (value * ((block % across) + 0.5)) / across
    y += (value * (Math.floor(block / across) + 0.5)) / down
  })
  return {
    change,
    noise,
    still: still / values.length,
    x: weight > 0 ? x / weight : Number.NaN,
    y: weight > 0 ? y / weight : Number.NaN,
    area: moved / values.length,
  }
}

/** A block that changes by less, in brightness, has not visibly changed, however quiet the picture is. */
export const LEAST_CHANGE = 0.6
