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
  /** Middle of all that changes, as a share of width and height; NaN where nothing does. */
  x: number
  y: number
  /** Middle of the one connected patch that changes most; NaN where nothing does. */
  patchX: number
  patchY: number
  /** Share of the blocks that change by more than noise. */
  area: number
}

/** Returns the mean absolute change of every block between two pictures of one size. */
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

/** Returns how a frame differs from the one before it. */
export function differenceOf(before: Luma, frame: Luma): Difference {
  const { across, values } = blockChanges(before, frame)
  const middle = median(values)
  const deviation = MAD_TO_DEVIATION * median(values.map((value) => Math.abs(value - middle)))
  const noise = middle + 6 * deviation
  const moved = values.map((value) => (value > Math.max(noise, LEAST_CHANGE) ? value : 0))
  const patch = strongestPatch(moved, across)
  const down = values.length / across
  let [weight, x, y] = [0, 0, 0]
  moved.forEach((value, block) => {
    weight += value
    x += value * ((block % across) + 0.5)
    y += value * (Math.floor(block / across) + 0.5)
  })
  return {
    change: values.reduce((most, value) => Math.max(most, value), 0),
    noise,
    still: values.reduce((count, value) => count + (value === 0 ? 1 : 0), 0) / values.length,
    x: weight > 0 ? x / weight / across : Number.NaN,
    y: weight > 0 ? y / weight / down : Number.NaN,
    patchX: patch ? patch.x / across : Number.NaN,
    patchY: patch ? patch.y / down : Number.NaN,
    area: moved.reduce((count, value) => count + (value > 0 ? 1 : 0), 0) / values.length,
  }
}

/** Middle of the connected patch of blocks that changes most, in blocks; null where no block changes. */
function strongestPatch(changes: Float64Array, across: number): { x: number; y: number } | null {
  const seen = new Uint8Array(changes.length)
  let best: { x: number; y: number } | null = null
  let most = 0
  for (let start = 0; start < changes.length; start++) {
    if (seen[start] || changes[start] === 0) continue
    const waiting = [start]
    seen[start] = 1
    let [weight, x, y] = [0, 0, 0]
    while (waiting.length > 0) {
      const block = waiting.pop()!
      const [column, row] = [block % across, Math.floor(block / across)]
      weight += changes[block]
      x += changes[block] * (column + 0.5)
      y += changes[block] * (row + 0.5)
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          const next = block + dy * across + dx
          const isBeside = column + dx >= 0 && column + dx < across
          if (!isBeside || !changes[next] || seen[next]) continue
          seen[next] = 1
          waiting.push(next)
        }
    }
    if (weight > most) {
      most = weight
      best = { x: x / weight, y: y / weight }
    }
  }
  return best
}

/**
 * A block that changes by less, in brightness, has not visibly moved: compression alone changes blocks of
 * a quiet picture by up to about 2.
 */
export const LEAST_CHANGE = 2.2
