import { localPolynomial } from './localPolynomial.ts'
import type { DerivativeMethod } from './method.ts'

/** Derivatives of the least-squares parabola through a point and its neighbours; exact for uniform acceleration. */
export const parabola: DerivativeMethod = {
  id: 'parabola',
  name: ({ reach }) => `parabola over ${2 * reach + 1} points`,
  exact: 2,
  readsValues: false,
  explain: ({ reach }) =>
    `Velocity and acceleration are those of the least-squares parabola over ${2 * reach + 1} points; at the ends over the nearest ones, with a larger error.`,
  derive: (points, order, reach) => localPolynomial(points, 2, order, reach),
}
