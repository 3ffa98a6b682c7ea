import { describe, expect, it } from 'vitest'
import { spiralOn } from './spiral.ts'

/** Returns the farthest of a spiral from the sines and cosines of the engine, as a share of what is left of it there. */
function farthest(places: readonly number[], omega: number, gamma: number): number {
  const [sin, cos] = [new Float64Array(places.length), new Float64Array(places.length)]
  spiralOn(places)(omega, gamma, sin, cos)
  return Math.max(
    ...places.map((t, i) => {
      const left = Math.exp(-gamma * t)
      return Math.max(
        Math.abs(sin[i] / left - Math.sin(omega * t)),
        Math.abs(cos[i] / left - Math.cos(omega * t)),
      )
    }),
  )
}

describe('Sines and cosines that lessen', () => {
  // A film of 240 frames a second, counted from its middle.
  const even = Array.from({ length: 2001 }, (_, i) => (i - 1000) / 240)

  it('are right to rounding at even places, however many', () => {
    expect(farthest(even, 7.3, 0)).toBeLessThan(2e-14)
    expect(farthest(even, 7.3, 0.4)).toBeLessThan(2e-14)
    // Nearly half a turn a step.
    expect(farthest(even, 700, 0)).toBeLessThan(1e-12)
  })

  it('are those of each place where a frame is left out, or one is a thousandth of a step late', () => {
    const gap = even.filter((_, i) => i !== 400)
    const late = even.map((t, i) => (i === 7 ? t + 1e-3 / 240 : t))
    for (const places of [gap, late, [], [0.3], [0.3, 0.5]])
      expect(farthest([0, ...places], 31, 0.2)).toBeLessThan(5e-16)
  })

  it('are not turned on by places that are not numbers', () => {
    const [sin, cos] = [new Float64Array(4), new Float64Array(4)]
    spiralOn([0, 1, Number.NaN, 3])(1, 0, sin, cos)
    expect([...sin].map(Number.isNaN)).toEqual([false, false, true, false])
  })
})
