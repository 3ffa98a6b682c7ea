/** A turn counts where the values go back by at least this share of their whole range. */
const LEAST_TURN = 0.08

/**
 * Returns the indices of the turning points of a series: its maxima and minima between swings, in order. A turn
 * counts once the series has reversed by 8 % of its range; NaN are ignored.
 */
export function turningPoints(values: ArrayLike<number>): number[] {
  const known = Array.from({ length: values.length }, (_, i) => i).filter((i) => Number.isFinite(values[i]))
  if (known.length < 3) return []
  let low = values[known[0]]
  let high = low
  for (const i of known) {
    low = Math.min(low, values[i])
    high = Math.max(high, values[i])
  }
  const least = LEAST_TURN * (high - low)
  if (!(least > 0)) return []
  const turns: number[] = []
  let direction = 0
  let extreme = known[0]
  for (const i of known) {
    const away = values[i] - values[extreme]
    if (direction === 0) {
      if (Math.abs(away) >= least) {
        direction = Math.sign(away)
        extreme = i
      }
    } else if (away * direction >= 0) extreme = i
    else if (Math.abs(away) >= least) {
      turns.push(extreme)
      direction = -direction
      extreme = i
    }
  }
  return turns
}

/**
 * Returns the index at which so many whole oscillations are over, counted from where the series begins to move: a
 * body that is let go at its farthest is there again after every second turn. Null where there are not
 * so many.
 */
export function afterOscillations(values: ArrayLike<number>, count: number): number | null {
  return turningPoints(values)[2 * count - 1] ?? null
}
