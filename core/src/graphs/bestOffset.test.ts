import { expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import { bestOffset } from './index.ts'

const swing = (t: number) => Math.sin(5 * t) * Math.exp(-t / 3)
const series = (from: number, to: number, step: number, of: (t: number) => number) => {
  const times = Array.from({ length: Math.round((to - from) / step) + 1 }, (_, i) => from + i * step)
  return { times, values: times.map(of) }
}

it.each([0.37, -1.2, 12.5])('a sensor that began %d s off is moved back, whatever its zero', (off) => {
  const normal = normalSource(randomSource(8))
  const film = series(0, 4, 1 / 30, swing)
  const sensor = series(-0.5 - off, 5 - off, 0.02, (t) => 3 + swing(t + off) + 0.02 * normal())
  expect(Math.abs(bestOffset(film, sensor)! - off)).toBeLessThan(0.01)
})

it('is none where nothing goes alike, or there is next to nothing', () => {
  const film = series(0, 4, 0.1, swing)
  expect(bestOffset(film, { times: [0, 1], values: [1, 2] })).toBeNull()
  expect(
    bestOffset(
      film,
      series(0, 4, 0.1, () => 7),
    ),
  ).toBeNull()
})
