import { studentBeyond } from '../regression/index.ts'

/** What residuals say of a model. */

/**
 * Akaike's criterion with its correction for few points (Hurvich and Tsai, Biometrika 76 (1989) 297): of several models
 * of the same independent points the one with the least loses the least. The variance counts as a parameter. With a variance
 * inflation factor it is the criterion for quasi-likelihood (Lebreton et al., Ecological Monographs 62 (1992) 67).
 *
 * @param rss sum of squared residuals of n independent points
 * @param parameters of the model
 * @param inflation times by which the variance of what the points tell is larger than if they were as independent as assumed
 * @returns null where there are too few points for the correction, or nothing is left to judge by
 */
export function aicc(rss: number, n: number, parameters: number, inflation = 1): number | null {
  const k = parameters + 1
  if (n <= k + 1 || !(rss > 0)) return null
  return (n * Math.log(rss / n)) / inflation + 2 * k + (2 * k * (k + 1)) / (n - k - 1)
}

/** How often residuals change sign, against what chance would do. */
export interface Runs {
  /** Stretches of residuals of one sign. */
  runs: number
  expected: number
  /** Probability of so few runs, or fewer, where signs come by chance. */
  probability: number
}

/**
 * Returns true if residuals, in the order of time, keep one sign for too long (Wald and Wolfowitz, Ann. Math. Statist. 11 (1940)
 * 147): a bend that the model does not have. The probability is exact up to 40 points of either sign, beyond that by the
 * normal distribution with a correction for continuity. Residuals of 0 are left out.
 *
 * @returns null where there are fewer than two of either sign
 */
export function runsTest(residuals: ArrayLike<number>): Runs | null {
  const signs: boolean[] = []
  for (let i = 0; i < residuals.length; i++) if (residuals[i] !== 0) signs.push(residuals[i] > 0)
  const above = signs.filter(Boolean).length
  const below = signs.length - above
  if (above < 2 || below < 2) return null
  const runs = signs.reduce((count, sign, i) => count + (i === 0 || sign !== signs[i - 1] ? 1 : 0), 0)
  const n = above + below
  const expected = 1 + (2 * above * below) / n
  if (above <= 40 && below <= 40) return { runs, expected, probability: exactly(runs, above, below) }
  const variance = ((expected - 1) * (expected - 2)) / (n - 1)
  return { runs, expected, probability: normalBelow((runs + 0.5 - expected) / Math.sqrt(variance)) }
}

/** Probability of at most so many runs of so many of either sign. */
function exactly(most: number, above: number, below: number): number {
  const all = choose(above + below, above)
  let sum = 0
  for (let runs = 2; runs <= most; runs++) {
    const half = runs >> 1
    const ways =
      runs % 2 === 0
        ? 2 * choose(above - 1, half - 1) * choose(below - 1, half - 1)
        : choose(above - 1, half) * choose(below - 1, half - 1) +
          choose(above - 1, half - 1) * choose(below - 1, half)
    sum += ways / all
  }
  return Math.min(1, sum)
}

function choose(n: number, k: number): number {
  if (k < 0 || k > n) return 0
  const few = Math.min(k, n - k)
  let ways = 1
  for (let i = 1; i <= few; i++) ways = (ways * (n - few + i)) / i
  return ways
}

/** Probability that a standard normal number is below a value. */
function normalBelow(value: number): number {
  const beyond = studentBeyond(value, Number.POSITIVE_INFINITY) / 2
  return value > 0 ? 1 - beyond : beyond
}
