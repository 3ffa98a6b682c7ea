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
/** Share of the variance that has to go away. */
const ALIKE = 0.5

/**
 * Returns the time by which a series has to be moved so that it goes as another one does: the offset at which the difference of
 * both, interpolated in a line, varies least where they overlap. It does not mind another zero. Null where they have too
 * little in common: less than half of the variance goes away.
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
      const score = likeness(still, moved, offset)
      if (score !== null && (!best || score > best.score)) best = { offset, score }
    }
    if (!best) return null
    low = best.offset - (step * TRIED) / FINER / 2
    high = best.offset + (step * TRIED) / FINER / 2
  }
  return best && best.score > ALIKE ? best.offset : null
}

const ends = ({ times }: TimeSeries) => [times[0], times[times.length - 1]]

/** Returns the share of the variance that goes away where both are subtracted; null where too few points overlap, or nothing varies. */
function likeness(still: TimeSeries, moved: TimeSeries, offset: number): number | null {
  let [count, sum, squares, own, ownSquares] = [0, 0, 0, 0, 0]
  let at = 0
  for (let i = 0; i < still.times.length; i++) {
    const time = still.times[i] - offset
    if (time < moved.times[0] || time > moved.times[moved.times.length - 1]) continue
    while (at + 2 < moved.times.length && moved.times[at + 1] <= time) at++
    const share = (time - moved.times[at]) / (moved.times[at + 1] - moved.times[at])
    const value = still.values[i]
    const difference = value - moved.values[at] - share * (moved.values[at + 1] - moved.values[at])
    count++
    sum += difference
    squares += difference * difference
    own += value
    ownSquares += value * value
  }
  if (count < 3) return null
  const variance = ownSquares / count - (own / count) ** 2
  return variance > 0 ? 1 - (squares / count - (sum / count) ** 2) / variance : null
}
