import { studentBeyond } from '../regression/index.ts'

/** Probability below which the largest of n residuals is no chance any more. */
const CHANCE = 0.01
/** Degrees of freedom below which nothing is said. */
const LEAST_FREEDOM = 3

/**
 * Returns the indices of residuals that are larger than chance explains: each is compared with the scatter of the others (externally
 * studentised residuals; Cook and Weisberg, Residuals and Influence in Regression, 1982, section 2.2) at the level 0.01/n. Every value is
 * taken to have the same leverage p/n.
 *
 * @param residuals of unit variance, or of any common variance
 * @param parameters number of parameters p that were fitted to them
 */
export function outlyingResiduals(residuals: ArrayLike<number>, parameters: number): number[] {
  const all = Array.from(residuals)
  const n = all.length
  const freedom = n - parameters - 1
  if (freedom < LEAST_FREEDOM) return []
  const squares = all.reduce((sum, one) => sum + one ** 2, 0)
  const rest = 1 - parameters / n
  return all.flatMap((one, i) => {
    const others = (squares - one ** 2 / rest) / freedom
    if (!(others > 0)) return squares > 0 && one !== 0 ? [i] : []
    const t = Math.abs(one) / Math.sqrt(others * rest)
    return studentBeyond(t, freedom) < CHANCE / n ? [i] : []
  })
}
