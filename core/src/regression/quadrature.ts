/** Abscissas and weights of the five-point Gauss–Legendre rule on [0, 1] (Abramowitz and Stegun, 25.4.30). */
export const FIVE_POINTS: readonly { at: number; weight: number }[] = [
  [0, 0.5688888888888889],
  [0.5384693101056831, 0.47862867049936647],
  [-0.5384693101056831, 0.47862867049936647],
  [0.906179845938664, 0.23692688505618908],
  [-0.906179845938664, 0.23692688505618908],
].map(([at, weight]) => ({ at: (1 + at) / 2, weight: weight / 2 }))
