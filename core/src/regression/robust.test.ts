import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import { settlingAt } from '../testing/settling.ts'
import { fitNonlinear, fitRobust } from './index.ts'

const times = Float64Array.from({ length: 60 }, (_, i) => i / 30)
const TRUTH = [0.4, -1.3, 0.37]
const settling = settlingAt(times)
const exact = new Float64Array(times.length)
settling(Float64Array.from(TRUTH), exact, null)

const random = randomSource(21)
const noise = normalSource(random)
const problemOf = (y: Float64Array) => ({ y, evaluate: settling, start: [0, -1, 1], linear: [0, 1] })

describe.each(['huber', 'bisquare'] as const)('a robust fit, %s', (kind) => {
  it('is hardly biased by 10 % of outliers, unlike a plain fit', () => {
    let [robust, plain] = [0, 0]
    for (let repeat = 0; repeat < 60; repeat++) {
      const y = exact.map((value, i) => value + 0.01 * noise() + (i % 10 === 3 ? 0.3 + 0.2 * random() : 0))
      robust += (fitRobust(problemOf(y), kind).parameters[0] - TRUTH[0]) ** 2
      plain += (fitNonlinear(problemOf(y)).parameters[0] - TRUTH[0]) ** 2
    }
    expect(Math.sqrt(robust / plain)).toBeLessThan(kind === 'huber' ? 0.35 : 0.12)
  })

  it('gives outliers little or no weight, and the other points full weight', () => {
    const y = exact.map((value, i) => value + 0.01 * noise() + (i === 20 ? 0.5 : 0))
    const { weights } = fitRobust(problemOf(y), kind)
    expect(weights[20]).toBeLessThan(kind === 'huber' ? 0.1 : 1e-9)
    expect(weights.filter((weight) => weight > 0.6).length).toBeGreaterThan(50)
  })

  it('states the standard errors that repeats scatter by without outliers', () => {
    let [ratio, held] = [0, 0]
    const repeats = 400
    for (let repeat = 0; repeat < repeats; repeat++) {
      const { parameters, cofactors, variance } = fitRobust(
        problemOf(exact.map((value) => value + 0.01 * noise())),
        kind,
      )
      const off = (parameters[2] - TRUTH[2]) / Math.sqrt(cofactors[2][2] * variance)
      ratio += off * off
      if (Math.abs(off) < 2.002) held++
    }
    expect(Math.sqrt(ratio / repeats)).toBeGreaterThan(0.9)
    expect(Math.sqrt(ratio / repeats)).toBeLessThan(1.12)
    expect(held / repeats).toBeGreaterThan(0.92)
  })

  it('is exact for exact values', () => {
    const { parameters } = fitRobust(problemOf(exact), kind)
    TRUTH.forEach((one, k) => {
      expect(parameters[k]).toBeCloseTo(one, 8)
    })
  })
})
