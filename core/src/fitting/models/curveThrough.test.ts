import { describe, expect, it } from 'vitest'
import { curveThrough } from './curveThrough.ts'
import { readFreeForm } from './freeForm.ts'

describe('a curve laid by eye', () => {
  const settling = readFreeForm('c + a*exp(-t/tau)', 't')
  const swing = readFreeForm('a*sin(w*t + p)', 't')

  it('goes through as many places as it has parameters', () => {
    const places = [0.2, 0.8, 2].map((x) => ({ x, y: 2 - 3 * Math.exp(-x / 0.5) }))
    const [c, a, tau] = curveThrough(settling, [0, 1, 1], places)!
    expect(Math.abs(c - 2)).toBeLessThan(0.01)
    expect(Math.abs(a + 3)).toBeLessThan(0.03)
    expect(Math.abs(tau - 0.5)).toBeLessThan(0.01)
  })

  it('stays where it was when nothing is moved, and goes a little where something is moved a little', () => {
    const before = [1.2, 4, 0.3]
    const at = (x: number, [a, w, p]: readonly number[]) => a * Math.sin(w * x + p)
    const places = [0.1, 0.45, 1.1].map((x) => ({ x, y: at(x, before) }))
    curveThrough(swing, before, places)!.forEach((value, k) => {
      expect(value).toBeCloseTo(before[k], 9)
    })
    const moved = places.map((place, i) => (i === 0 ? { ...place, y: place.y + 0.02 } : place))
    const after = curveThrough(swing, before, moved)!
    after.forEach((value, k) => {
      expect(Math.abs(value / before[k] - 1)).toBeLessThan(0.2)
    })
    for (const { x, y } of moved) expect(Math.abs(at(x, after) - y)).toBeLessThan(0.005)
  })

  it('leaves a parameter alone that the places do not tell', () => {
    // At the time 0 nothing says how fast it settles.
    const [c, a, tau] = curveThrough(settling, [1, 1, 7], [{ x: 0, y: 3 }])!
    expect(c + a).toBeCloseTo(3, 3)
    expect(tau).toBeCloseTo(7, 9)
    // What both do alike is shared.
    expect(c).toBeCloseTo(a, 3)
  })

  it('comes as near as it can to places where it cannot be', () => {
    const square = readFreeForm('b^2 + 0*t', 't')
    const [b] = curveThrough(square, [1], [{ x: 0, y: -4 }]) ?? [0]
    expect(Math.abs(b)).toBeLessThan(0.2)
  })

  it('is none where the model has no value', () => {
    expect(curveThrough(readFreeForm('sqrt(a) + log(t)', 't'), [-1], [{ x: 1, y: 2 }])).toBeNull()
  })
})
