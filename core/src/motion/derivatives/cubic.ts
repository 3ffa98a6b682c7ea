import { localPolynomial } from './localPolynomial.ts'
import type { DerivativeMethod } from './method.ts'

/** Derivatives of the least-squares cubic through a point and its neighbours; exact where acceleration changes evenly. */
export const cubic: DerivativeMethod = {
  id: 'cubic',
  name: ({ reach, weighted }) => `cubic over ${2 * reach + 1} points${weighted ? ', weighted' : ''}`,
  exact: 3,
  readsValues: false,
  explain: ({ reach, weighted }) =>
    `Velocity and acceleration are those of the least-squares cubic over ${2 * reach + 1} points, which follows bends more closely than a parabola; at the ends over the nearest ones, with a larger error.${weighted ? ' Nearer points count more.' : ''}`,
  derive: (points, order, reach, _values, weighted) => localPolynomial(points, 3, order, reach, weighted),
}
