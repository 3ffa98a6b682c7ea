import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import { fitCircle } from './circle.ts'

const arc = (centre: { x: number; y: number }, radius: number, from: number, to: number, count: number) =>
  Array.from({ length: count }, (_, i) => {
    const angle = from + ((to - from) * i) / (count - 1)
    return { x: centre.x + radius * Math.cos(angle), y: centre.y + radius * Math.sin(angle) }
  })

describe('a circle through points', () => {
  it('is found exactly where they lie on one, also from a short arc far away', () => {
    for (const [from, to] of [
      [0, 6],
      [1.4, 1.7],
      [1.55, 1.6],
    ]) {
      const fit = fitCircle(arc({ x: 640, y: -900 }, 1300, from, to, 30))!
      expect(fit.centre.x).toBeCloseTo(640, 4)
      expect(fit.centre.y).toBeCloseTo(-900, 4)
      expect(fit.radius).toBeCloseTo(1300, 4)
      expect(fit.rms).toBeLessThan(1e-6)
    }
  })

  it('is the known one of Gander, Golub and Strebel (BIT 34 (1994) 558)', () => {
    // Six points of their section 5; the geometric fit has the centre (4.7398, 2.9835) and the radius 4.7142.
    const points = [
      [1, 7],
      [2, 6],
      [5, 8],
      [7, 7],
      [9, 5],
      [3, 7],
    ].map(([x, y]) => ({ x, y }))
    const { centre, radius } = fitCircle(points)!
    expect(centre.x).toBeCloseTo(4.7398, 3)
    expect(centre.y).toBeCloseTo(2.9835, 3)
    expect(radius).toBeCloseTo(4.7142, 3)
  })

  it('has standard errors that hold over 400 repeats', () => {
    const noise = normalSource(randomSource(3))
    const [off, radii] = [[] as number[], [] as number[]]
    let fit = null
    for (let n = 0; n < 400; n++) {
      const points = arc({ x: 300, y: 100 }, 250, 0.9, 2.2, 40).map(({ x, y }) => ({
        x: x + 0.5 * noise(),
        y: y + 0.5 * noise(),
      }))
      fit = fitCircle(points)!
      off.push(((fit.centre.x - 300) ** 2 + (fit.centre.y - 100) ** 2) / 2)
      radii.push((fit.radius - 250) ** 2)
    }
    const rms = (squares: number[]) => Math.sqrt(squares.reduce((sum, one) => sum + one, 0) / squares.length)
    expect(rms(off) / (0.5 * fit!.centreFactor)).toBeGreaterThan(0.9)
    expect(rms(off) / (0.5 * fit!.centreFactor)).toBeLessThan(1.1)
    expect(rms(radii) / (0.5 * fit!.radiusFactor)).toBeGreaterThan(0.9)
    expect(rms(radii) / (0.5 * fit!.radiusFactor)).toBeLessThan(1.1)
  })

  it('is none through three points or a line', () => {
    expect(fitCircle(arc({ x: 0, y: 0 }, 5, 0, 2, 3))).toBeNull()
    expect(fitCircle(Array.from({ length: 10 }, (_, i) => ({ x: i, y: 2 * i })))).toBeNull()
    expect(fitCircle(Array.from({ length: 10 }, () => ({ x: 4, y: 4 })))).toBeNull()
  })
})
