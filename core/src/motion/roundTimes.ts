/** Steps between times that are written beside a trail, in seconds. */
const STEPS = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 60, 120, 300, 600]

/** A point of a trail that is labelled with its time. */
export interface RoundTime {
  row: number
  /** Seconds, a multiple of the step. */
  time: number
}

/**
 * Returns the points of a motion that are nearest to round times (tenths of a second, or coarser), so many at most. A
 * round time that lies farther from every point than half the way between two is left out.
 *
 * @param times in seconds, increasing
 */
export function roundTimes(times: ArrayLike<number>, most: number): RoundTime[] {
  const n = times.length
  if (n === 0) return []
  const step = STEPS.find((one) => (times[n - 1] - times[0]) / one <= most) ?? STEPS[STEPS.length - 1]
  const found: RoundTime[] = []
  let row = 0
  for (let k = Math.ceil(times[0] / step - 0.5); k * step <= times[n - 1] + step / 2; k++) {
    // Not −0, which would be written with its sign.
    const time = k * step + 0
    while (row + 1 < n && Math.abs(times[row + 1] - time) <= Math.abs(times[row] - time)) row++
    const gap = Math.min(
      times[row] - (times[row - 1] ?? -Infinity),
      (times[row + 1] ?? Infinity) - times[row],
    )
    if (Math.abs(times[row] - time) <= (Number.isFinite(gap) ? gap / 2 : 0) + 1e-9) found.push({ row, time })
  }
  return found
}
