import type { Model } from './model.ts'

/** Uniform motion: x₀ + vt. */
export const uniform: Model = {
  id: 'uniform',
  name: 'Uniform motion',
  use: 'Nothing pushes or brakes along this direction: position goes along a straight line.',
  degree: 1,
  parameters: [
    { symbol: 's', subscript: '0', name: 'position at t = 0' },
    { symbol: 'v', subscript: '', name: 'velocity' },
  ],
  reading: { derivative: 1, name: 'Velocity' },
}
