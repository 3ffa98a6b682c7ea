import type { ModelId } from '@apokinema/core/investigation'

/** When to use each model, one sentence. */
export const MODEL_USES: Record<ModelId, string> = {
  rest: 'The body does not move, or the value stays constant.',
  uniform: 'No force acts along this direction: the position changes at a constant rate.',
  proportional: 'A straight line through zero.',
  'uniform-acceleration': 'A constant force acts along this direction: free fall, a slope, steady braking.',
  'changing-acceleration': 'The force grows or fades steadily: the residuals of a parabola look like an S.',
  'terminal-from-rest':
    'Released, with drag proportional to the speed: a bead sinking in syrup. The stretch may begin before the release.',
  'terminal-speed':
    'A constant force, and drag proportional to the speed: slow sinking from any initial speed.',
  'quadratic-drag': 'Released, with drag proportional to the speed squared: a paper cup, a shuttlecock.',
  settling: 'It approaches a final value ever more slowly: a body coasting to a stop, a closing door.',
  exponential: 'It loses or gains the same fraction every second: a speed with linear drag, an amplitude.',
  logistic: 'Growth that speeds up first and then levels off at a limit, or the reverse.',
  swing: 'An oscillation whose amplitude stays the same: a spring or a pendulum over a few periods.',
  'damped-swing': 'An oscillation that loses the same fraction of its amplitude in every period.',
  ellipse:
    'The phase plot of an oscillation, velocity against position. Its semi-axes give the angular frequency.',
  'pendulum-loop':
    'The phase plot of a pendulum of any amplitude. It gives the frequency for small amplitudes.',
  kink: 'Uniform motion before and after a short push, such as a collision. The moment of the push is found too.',
  pieces:
    'Uniform motion before and after each break in the lane; the position may jump at a break: collisions.',
  bounces:
    'It falls, bounces at each break in the lane and falls again, with one acceleration for all flights.',
  power: 'One quantity is a power of the other. The exponent is found.',
  'square-root':
    'Proportional to the square root of the other quantity: the speed after a fall against its height.',
  reciprocal: 'Inversely proportional: twice the one goes with half the other.',
  gaussian: 'A bell-shaped peak on a constant background.',
  'free-form':
    'Type it, such as c + a*exp(-t/tau). Every name that is not the variable is a parameter to be fitted.',
}
