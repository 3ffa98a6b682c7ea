import { randomSource } from '@apokinema/core/random'

/**
 * Returns the points as a careful person sets them, kept to the quarter pixel of the nudge keys.
 *
 * @param missed pixels by which they are off along each direction, as a standard deviation
 */
export function steadyHand(seed: number, missed = 0.33) {
  const random = randomSource(seed)
  const off = () => missed * Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random())
  return ({ x, y }: { x: number; y: number }) => ({
    x: Math.round(4 * (x + off())) / 4,
    y: Math.round(4 * (y + off())) / 4,
  })
}
