import type { Model } from './model.ts'

/** Uniformly accelerated motion: x₀ + v₀t + ½at². */
export const uniformAcceleration: Model = {
  id: 'uniform-acceleration',
  name: 'Uniform acceleration',
  use: 'A constant force acts along this direction: free fall, a slope, steady braking.',
  degree: 2,
  parameters: [
    { symbol: 's', subscript: '0', name: 'position at t = 0' },
    { symbol: 'v', subscript: '0', name: 'velocity at t = 0' },
    { symbol: 'a', subscript: '', name: 'acceleration' },
  ],
  reading: { derivative: 2, name: 'Acceleration' },
}
