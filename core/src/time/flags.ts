/** Scales a median absolute deviation to the standard deviation of a normal distribution. */
export const MAD_TO_DEVIATION = 1.4826

/** Median of numbers; NaN of none. */
export function median(values: ArrayLike<number>): number {
  const count = values.length
  if (count === 0) return Number.NaN
  const some = new Float64Array(values)
  const half = count >> 1
  // What is no number comes after all numbers, which only sorting knows.
  if (some.some(Number.isNaN)) some.sort()
  else place(some, half)
  if (count % 2) return some[half]
  let lower = some[0]
  for (let i = 1; i < half; i++) if (!(some[i] <= lower)) lower = some[i]
  return (lower + some[half]) / 2
}

/**
 * Puts to a place of a list the value that would stand there if it were sorted, and none that is larger before it (Hoare,
 * Comm. ACM 4 (1961) 321): far quicker than sorting.
 */
function place(values: Float64Array, at: number): void {
  let [low, high] = [0, values.length - 1]
  while (low < high) {
    const pivot = values[at]
    let [i, j] = [low, high]
    while (i <= j) {
      while (values[i] < pivot) i++
      while (values[j] > pivot) j--
      if (i > j) break
      const value = values[i]
      values[i++] = values[j]
      values[j--] = value
    }
    if (at <= j) high = j
    else if (at >= i) low = i
    else break
  }
}

/** Standard deviation estimated from the median absolute deviation (Hampel 1974). */
export function robustDeviation(values: ArrayLike<number>): number {
  const middle = median(values)
  return MAD_TO_DEVIATION * median(Float64Array.from(values, (value) => Math.abs(value - middle)))
}

/**
 * Returns the frames that come earlier or later after the one before than an even clock would have it, by more than
 * is tolerated. Where no tolerance is known, five scaled median absolute deviations are, and never less
 * than what times were rounded to, which lets an interval be that much longer or shorter.
 *
 * @param seconds times of the frames
 * @param rounding what they may have been rounded to, in seconds
 * @param tolerance seconds that the frame may be off; null where it is not known for this frame
 */
export function unevenFrames(
  seconds: ArrayLike<number>,
  rounding: number,
  tolerance: (frame: number) => number | null = () => null,
): number[] {
  if (seconds.length < 3) return []
  const lengths = Float64Array.from({ length: seconds.length - 1 }, (_, i) => seconds[i + 1] - seconds[i])
  const typical = median(lengths)
  const general = 5 * robustDeviation(lengths)
  const flagged: number[] = []
  lengths.forEach((length, i) => {
    // A rounding of the last digit is no unevenness, however small the tolerance.
    const most = Math.max(tolerance(i + 1) ?? general, 1.01 * rounding, 1e-9)
    if (Math.abs(length - typical) > most) flagged.push(i + 1)
  })
  return flagged
}
