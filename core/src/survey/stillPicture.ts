import { MAD_TO_DEVIATION, median } from '../time/index.ts'
import type { Luma } from './luma.ts'

/** What stands still in pictures, and by how much a pixel must differ from it to count as something else. */
export interface StillPicture {
  /** Brightness of each pixel, row by row. */
  value: Uint8Array
  limit: number
}

/** Most pictures that samples are taken of. */
const MOST_SAMPLES = 61
/** Brightness within which samples of a pixel are of the same thing. */
const ALIKE = 8
/** Deviations of the noise that count. */
const DEVIATIONS = 6

/**
 * Returns what stands still: of each pixel the brightness that most samples share, over pictures that are spread evenly over the
 * clip. What swings or falls slowly may hide a pixel for most of the time, but hardly ever with one brightness.
 *
 * @param pictures brightness, or a colour difference
 * @param least difference that counts, however little noise there is
 */
export function stillPicture(pictures: readonly Luma[], least: number): StillPicture {
  const count = Math.min(MOST_SAMPLES, pictures.length)
  const samples = Array.from({ length: count }, (_, i) =>
    Math.round((i * (pictures.length - 1)) / Math.max(1, count - 1)),
  ).map((at) => pictures[at].data)
  const { length } = samples[0]
  const value = new Uint8Array(length)
  const spreads = new Float32Array(length)
  const sorted = new Uint8Array(count)
  for (let pixel = 0; pixel < length; pixel++) {
    for (let i = 0; i < count; i++) sorted[i] = samples[i][pixel]
    sorted.sort()
    const { from, to } = densest(sorted)
    const middle = sorted[(from + to) >> 1]
    value[pixel] = middle
    // Half the range between the quartiles of what is alike.
    spreads[pixel] = (sorted[from + ((3 * (to - from)) >> 2)] - sorted[from + ((to - from) >> 2)]) / 2
  }
  return { value, limit: Math.max(least, DEVIATIONS * MAD_TO_DEVIATION * median(spreads)) }
}

/** Returns the first and the last of the most samples that are alike. */
function densest(sorted: Uint8Array): { from: number; to: number } {
  let best = { from: 0, to: 0 }
  for (let from = 0, to = 0; from < sorted.length; from++) {
    while (to + 1 < sorted.length && sorted[to + 1] - sorted[from] <= ALIKE) to++
    if (to - from > best.to - best.from) best = { from, to }
  }
  return best
}
