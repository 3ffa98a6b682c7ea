import type { DerivativeId } from '../../investigation/index.ts'
import { cubic } from './cubic.ts'
import type { DerivativeMethod } from './method.ts'
import { parabola } from './parabola.ts'
import { smoothingSpline } from './smoothingSpline.ts'
import { threePoint } from './threePoint.ts'

export { biasBounds } from './bias.ts'
export { type DerivationPoints, type Derived, pickPoints, runsOf, type Scatter } from './derivationPoints.ts'
export { derivativeAt } from './localPolynomial.ts'
export type { DerivativeMethod } from './method.ts'

/** The methods in the order in which they are offered. */
export const DERIVATIVES: Record<DerivativeId, DerivativeMethod> = {
  'three-point': threePoint,
  parabola,
  cubic,
  spline: smoothingSpline,
}
