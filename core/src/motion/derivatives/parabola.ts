import { localPolynomial } from './localPolynomial.ts'
import type { DerivativeMethod } from './method.ts'

/** Derivatives of the least-squares parabola through a point and its neighbours; exact for uniform acceleration. */
export const parabola: DerivativeMethod = {
  id: 'parabola',
  name: ({ reach, weighted }) => `parabola over ${2 * reach + 1} points${weighted ? ', weighted' : ''}`,
  exact: 2,
  readsValues: false,
  explain: ({ reach, weighted }) =>
    `Velocity and acceleration are those of the least-squares parabola over ${2 * reach + 1} points; at the ends over the nearest ones, with a larger error.${weighted ? ' Nearer points count more.' : ''}`,
  derive: (points, order, reach, _values, weighted) => localPolynomial(points, 2, order, reach, weighted),
}
