/** Relative precision at which the bisection ends. */
const PRECISION = 1e-9

/**
 * Returns the variance between trials, beyond the errors of their own, at which the weighted sum of squared residuals is as large as its
 * degrees of freedom; 0 if it is no larger without any (Paule and Mandel, J. Res. Natl. Bur. Stand. 87 (1982) 377).
 *
 * @param chiSquareAt sum of squared residuals over own variance + `between`; decreases with `between`
 * @param start a variance of the magnitude of the squared residuals
 */
export function varianceBetween(
  chiSquareAt: (between: number) => number,
  freedom: number,
  start: number,
): number {
  if (!(freedom > 0) || !(chiSquareAt(0) > freedom)) return 0
  let [low, high] = [0, start]
  while (chiSquareAt(high) > freedom) [low, high] = [high, 4 * high]
  while (high - low > PRECISION * high) {
    const middle = (low + high) / 2
    if (chiSquareAt(middle) > freedom) low = middle
    else high = middle
  }
  return (low + high) / 2
}
