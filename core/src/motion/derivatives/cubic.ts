import { localPolynomial } from './localPolynomial.ts'
import type { DerivativeMethod } from './method.ts'

/** Derivatives of the least-squares cubic through a point and its neighbours; exact where acceleration changes evenly. */
export const cubic: DerivativeMethod = {
  id: 'cubic',
  exact: 3,
  readsValues: false,
  derive: (points, order, reach, _values, weighted) => localPolynomial(points, 3, order, reach, weighted),
}
