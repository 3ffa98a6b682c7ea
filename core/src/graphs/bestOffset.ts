/** Values over time. */
export interface TimeSeries {
  times: readonly number[]
  values: readonly number[]
}

/** Share of the shorter series that has to lie within the other one for an offset to count. */
const OVERLAP = 0.5
/** Offsets that are tried first, and how much finer each later turn is. */
const TRIED = 400
const FINER = 10
const TURNS = 4

/**
 * The time by which a series has to be moved so that it goes as another one does: the offset with the largest
 * correlation of its values, interpolated in a line, with the other's at its times. The correlation does not mind
 * another zero or another scale. Null where they have too little in common.
 *
 * @returns seconds to be added to the moved series' times
 */
export function bestOffset(still: TimeSeries, moved: TimeSeries): number | null {
  if (still.times.length < 3 || moved.times.length < 3) return null
  const [from, to] = ends(still)
  const [first, last] = ends(moved)
  const least = OVERLAP * Math.min(to - from, last - first)
  let [low, high] = [from - last + least, to - first - least]
  let best: { offset: number; score: number } | null = null
  for (let turn = 0; turn < TURNS; turn++) {
    const step = (high - low) / TRIED
    for (let k = 0; k <= TRIED; k++) {
      const offset = low + k * step
      const score = correlation(still, moved, offset)
      if (score !== null && (!best || score > best.score)) best = { offset, score }
    }
    if (!best) return null
    low = best.offset - (step * TRIED) / FINER / 2
    high = best.offset + (step * TRIED) / FINER / 2
  }
  return best && best.score > 0 ? best.offset : null
}

const ends = ({ times }: TimeSeries) => [times[0], times[times.length - 1]]

/** Correlation of both where they overlap; null where too few points do, or one of them does not change. */
function correlation(still: TimeSeries, moved: TimeSeries, offset: number): number | null {
  let [count, sumA, sumB, sumAA, sumBB, sumAB] = [0, 0, 0, 0, 0, 0]
  let at = 0
  for (let i = 0; i < still.times.length; i++) {
    const time = still.times[i] - offset
    if (time < moved.times[0] || time > moved.times[moved.times.length - 1]) continue
    while (at + 2 < moved.times.length && moved.times[at + 1] <= time) at++
    const share = (time - moved.times[at]) / (moved.times[at + 1] - moved.times[at])
    const b = moved.values[at] + share * (moved.values[at + 1] - moved.values[at])
    const a = still.values[i]
    count++
    sumA += a
    sumB += b
    sumAA += a * a
    sumBB += b * b
    sumAB += a * b
  }
  if (count < 3 || count < OVERLAP * Math.min(still.times.length, moved.times.length) * 0.5) return null
  const spread = (count * sumAA - sumA * sumA) * (count * sumBB - sumB * sumB)
  return spread > 0 ? (count * sumAB - sumA * sumB) / Math.sqrt(spread) : null
}
