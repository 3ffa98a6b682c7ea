import type { DerivativeId } from '../../investigation/index.ts'
import type { DerivationPoints, Derived } from './derivationPoints.ts'

/** A way in which velocity and acceleration are derived from positions. */
export interface DerivativeMethod {
  id: DerivativeId
  /** Degree of the polynomials whose derivatives come out exactly. */
  exact: number
  /** Whether how it derives depends on the values themselves, and not on their times alone. */
  readsValues: boolean
  /**
   * Velocity (order 1) or acceleration (order 2) at the points of a motion.
   *
   * @param reach points on either side that are used, where the method has a choice
   * @param values positions of all points
   * @param weighted whether nearer points count more, where the method has a window
   */
  derive(
    points: DerivationPoints,
    order: 1 | 2,
    reach: number,
    values: ArrayLike<number>,
    weighted?: boolean,
  ): Derived
}
