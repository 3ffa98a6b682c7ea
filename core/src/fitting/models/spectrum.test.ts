import { describe, expect, it } from 'vitest'
import { randomSource } from '../../random/index.ts'
import { strongestSwings } from './spectrum.ts'
import { beginSwing, checkSwing, swingOn } from './swinging.ts'

const even = (n: number, span = 10) => Float64Array.from({ length: n }, (_, i) => (i / (n - 1)) * span)

describe('the strongest swings of values', () => {
  it.each([2.3, 7.7, 31.4, 118])('are where they swing: %d cycles', (cycles) => {
    const times = even(600)
    const values = times.map((t) => 4 + Math.sin((2 * Math.PI * cycles * t) / 10 + 0.8))
    const [first] = strongestSwings(times, values, 240, 5)
    expect(Math.abs(first.cycles - cycles)).toBeLessThan(0.15)
  })

  it('come strongest first, and each by itself', () => {
    const times = even(400)
    const values = times.map((t) => Math.sin(2 * Math.PI * 1.2 * t) + 0.5 * Math.cos(2 * Math.PI * 4.5 * t))
    const [first, ...others] = strongestSwings(times, values, 160, 30)
    expect(first.cycles).toBeCloseTo(12, 0)
    expect(others.some(({ cycles }) => Math.abs(cycles - 45) < 0.2)).toBe(true)
    const powers = [first, ...others].map(({ power }) => power)
    expect(powers).toEqual([...powers].sort((a, b) => b - a))
  })

  it('are found at uneven times, and beyond half the mean rate', () => {
    const random = randomSource(3)
    const times = Float64Array.from({ length: 300 }, () => 10 * random()).sort()
    const values = times.map((t) => Math.cos(2 * Math.PI * 18.3 * t))
    const [first] = strongestSwings(times, values, 250, 5)
    expect(Math.abs(first.cycles - 18.3 * (times[299] - times[0]))).toBeLessThan(0.2)
  })

  it('end at the highest that is asked for', () => {
    const times = even(300)
    const values = times.map((t) => Math.sin(2 * Math.PI * 8 * t))
    for (const { cycles } of strongestSwings(times, values, 40, 10)) expect(cycles).toBeLessThan(41)
  })

  it('have the power that a slow sum gives', () => {
    const random = randomSource(12)
    const n = 65
    const times = even(n, 1)
    const values = times.map(() => random() - 0.5)
    const mean = values.reduce((sum, value) => sum + value, 0) / n
    // As the method has it: shared out on cells, then summed one by one.
    for (const { cycles, power } of strongestSwings(times, values, 16, 4)) {
      const slow = (at: number) => {
        let [real, imaginary] = [0, 0]
        times.forEach((t, i) => {
          real += (values[i] - mean) * Math.cos(2 * Math.PI * at * t)
          imaginary += (values[i] - mean) * Math.sin(2 * Math.PI * at * t)
        })
        return real * real + imaginary * imaginary
      }
      // Sharing out weakens high frequencies by less than a tenth here.
      expect(power / slow(cycles)).toBeGreaterThan(0.9)
      expect(power / slow(cycles)).toBeLessThan(1.02)
    }
  })
})

describe('where a swing’s fit begins', () => {
  it.each([
    [false, 1.4],
    [false, 23],
    [true, 5.6],
  ])('is at its own frequency (damped: %s, %d cycles)', (isDamped, cycles) => {
    const random = randomSource(5)
    const places = even(240).map((t) => t - 5)
    const omega = (2 * Math.PI * cycles) / 10
    const values = places.map(
      (t) => 2 + Math.exp(isDamped ? -0.15 * (t + 5) : 0) * Math.sin(omega * t + 1) + 0.2 * (random() - 0.5),
    )
    const { starts, lower, upper } = beginSwing(places, values, isDamped)
    expect(starts.some((start) => Math.abs(start[3] - omega) < Math.PI / 10)).toBe(true)
    expect(lower[3]).toBeLessThan(omega)
    expect(upper[3]).toBeGreaterThan(omega)
  })

  it('is refused where points are too few or all at one time', () => {
    expect(() => beginSwing([0, 1, 2, 3], [1, 2, 1, 2], false)).toThrow(/too-few-for-swing.*5/)
    expect(() => beginSwing([0, 0, 0, 0, 0, 0], [1, 2, 1, 2, 1, 2], false)).toThrow(/one-time/)
  })

  it('is undetermined below a period and below 2.5 points a period', () => {
    const places = even(51)
    const turn = (2 * Math.PI) / 10
    expect(() => checkSwing(0.9 * turn, places)).toThrow(/less-than-a-period/)
    expect(() => checkSwing(1.1 * turn, places)).not.toThrow()
    expect(() => checkSwing(19.9 * turn, places)).not.toThrow()
    expect(() => checkSwing(20.1 * turn, places)).toThrow(/too-few-points-a-period/)
  })
})

describe('a swing as the engine has it', () => {
  it.each([false, true])('changes with its parameters as its slopes say (damped: %s)', (isDamped) => {
    const places = even(30).map((t) => t - 5)
    const evaluate = swingOn(isDamped)(places)
    const at = [0.4, 1.2, -0.7, 2.9, ...(isDamped ? [0.13] : [])]
    const valuesAt = (parameters: number[]) => {
      const values = new Float64Array(places.length)
      evaluate(Float64Array.from(parameters), values, null)
      return values
    }
    const jacobian = at.map(() => new Float64Array(places.length))
    evaluate(Float64Array.from(at), new Float64Array(places.length), jacobian)
    at.forEach((one, k) => {
      const beside = (by: number) => valuesAt(at.map((other, j) => (j === k ? one + by : other)))
      const [up, down] = [beside(1e-5), beside(-1e-5)]
      jacobian[k].forEach((slope, i) => {
        expect(Math.abs(slope - (up[i] - down[i]) / 2e-5)).toBeLessThan(1e-7)
      })
    })
  })
})
