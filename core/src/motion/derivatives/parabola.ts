import { localPolynomial } from './localPolynomial.ts'
import type { DerivativeMethod } from './method.ts'

/** Derivatives of the least-squares parabola through a point and its neighbours; exact for uniform acceleration. */
export const parabola: DerivativeMethod = {
  id: 'parabola',
  exact: 2,
  readsValues: false,
  derive: (points, order, reach, _values, weighted) => localPolynomial(points, 2, order, reach, weighted),
}
