import { expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import { parabolaSegments, segmentAt, segmentThrough, type TimedPoint } from './segments.ts'

const noisy = (count: number, at: (t: number) => { x: number; y: number }, error: number, seed = 1) => {
  const noise = normalSource(randomSource(seed))
  return Array.from({ length: count }, (_, i): TimedPoint => {
    const t = 3 + i / 60
    const { x, y } = at(t - 3)
    return { t, x: x + error * noise(), y: y + error * noise() }
  })
}
const ends = (segments: { from: number; to: number }[]) => segments.map(({ from, to }) => [from, to])

it('a flight is one segment, with its acceleration within three standard errors', () => {
  for (let seed = 1; seed <= 20; seed++) {
    const points = noisy(60, (t) => ({ x: 900 - 350 * t, y: 500 - 800 * t + 700 * t * t }), 0.4, seed)
    const [flight, ...others] = parabolaSegments(points, 0.4)
    expect(others).toEqual([])
    expect(ends([flight])).toEqual([[0, 59]])
    expect(Math.abs(flight.acceleration.y - 1400)).toBeLessThan(3.5 * flight.accelerationError)
    expect(Math.abs(flight.acceleration.x)).toBeLessThan(3.5 * flight.accelerationError)
    // 114 degrees of freedom: mean 1, standard deviation 0.13.
    expect(flight.rss / 0.16 / 114).toBeGreaterThan(0.55)
    expect(flight.rss / 0.16 / 114).toBeLessThan(1.5)
  }
})

it('exact marks give the exact parabola, far from the origin of the times and the picture', () => {
  const points = Array.from({ length: 30 }, (_, i): TimedPoint => {
    const t = 1e4 + i / 240
    return { t, x: 3000 + 20 * (t - 1e4), y: 2000 - 5 * (t - 1e4) + 300 * (t - 1e4) ** 2 }
  })
  const through = segmentThrough(points, 5, 25, 0.5)
  expect(through.acceleration.y).toBeCloseTo(600, 4)
  expect(segmentAt(through, points[0].t).y).toBeCloseTo(points[0].y, 6)
  expect(through.rss).toBeLessThan(1e-9)
})

it('a rest, a flight and what follows an impact are told apart to a frame', () => {
  for (let seed = 1; seed <= 20; seed++) {
    // At rest until 0.5 s, then it falls until 1 s, and rises with half of its speed.
    const path = (t: number) => {
      const falls = Math.min(0.5, Math.max(0, t - 0.5))
      const after = Math.max(0, t - 1)
      return { x: 300, y: 100 + 700 * falls ** 2 - 350 * after + 700 * after ** 2 }
    }
    const segments = parabolaSegments(noisy(80, path, 0.3, seed), 0.3)
    expect(segments).toHaveLength(3)
    const [rest, fall, rise] = segments
    // Within 3 frames, or 0.05 s, it has fallen by less than 2 px.
    expect(rest.to).toBeGreaterThanOrEqual(27)
    expect(rest.to).toBeLessThanOrEqual(34)
    expect(Math.abs(fall.to - 60)).toBeLessThanOrEqual(1)
    expect(rise.to).toBe(79)
  }
})

it('few marks are no segment', () => {
  expect(parabolaSegments([], 0.5)).toEqual([])
  expect(
    parabolaSegments(
      noisy(4, () => ({ x: 1, y: 1 }), 0.1),
      0.5,
    ),
  ).toEqual([])
})
