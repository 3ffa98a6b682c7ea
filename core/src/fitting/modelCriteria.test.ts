import { describe, expect, it } from 'vitest'
import { randomSource } from '../random/index.ts'
import { aicc, runsTest } from './index.ts'

const signs = (text: string) => [...text].map((one) => (one === '+' ? 1 : one === '-' ? -1 : 0))

describe('runs of residuals', () => {
  it('are counted, without zeros, and compared with chance', () => {
    // 3 of either sign: of the 20 orders 2 have 2 runs, 4 have 3.
    expect(runsTest(signs('+++---'))).toEqual({ runs: 2, expected: 4, probability: 0.1 })
    expect(runsTest(signs('++0+-0--'))?.runs).toBe(2)
    expect(runsTest(signs('+---++'))?.probability).toBeCloseTo(6 / 20, 12)
    expect(runsTest(signs('+-+-+-'))?.probability).toBeCloseTo(1, 12)
  })

  it('sum over all orders to what counting gives', () => {
    // All orders of 4 above and 3 below, by how many runs they have.
    const counts = new Map<number, number>()
    for (let bits = 0; bits < 128; bits++) {
      const order = [...bits.toString(2).padStart(7, '0')].map((bit) => (bit === '1' ? 1 : -1))
      if (order.filter((one) => one > 0).length !== 4) continue
      const { runs } = runsTest(order)!
      counts.set(runs, (counts.get(runs) ?? 0) + 1)
    }
    let below = 0
    for (const runs of [...counts.keys()].sort()) {
      below += counts.get(runs)!
      const order = [...Array(128).keys()]
        .map((bits) => [...bits.toString(2).padStart(7, '0')].map((bit) => (bit === '1' ? 1 : -1)))
        .find((one) => one.filter((sign) => sign > 0).length === 4 && runsTest(one)!.runs === runs)!
      expect(runsTest(order)!.probability).toBeCloseTo(below / 35, 12)
    }
  })

  it('of many points go over into the normal distribution', () => {
    const random = randomSource(3)
    let few = 0
    for (let repeat = 0; repeat < 2000; repeat++)
      if (runsTest(Float64Array.from({ length: 120 }, () => random() - 0.5))!.probability < 0.05) few++
    expect(few / 2000).toBeGreaterThan(0.025)
    expect(few / 2000).toBeLessThan(0.06)
    // A bend: all signs of one kind in the middle.
    const bent = Float64Array.from(
      { length: 120 },
      (_, i) => Math.cos((i / 119) * 2 * Math.PI) + 0.1 * (random() - 0.5),
    )
    expect(runsTest(bent)!.probability).toBeLessThan(1e-6)
  })

  it('tell nothing where one sign is hardly there', () => {
    expect(runsTest(signs('+++++-'))).toBeNull()
    expect(runsTest([])).toBeNull()
  })
})

describe('Akaike’s criterion', () => {
  it('is that of the textbook', () => {
    // n = 20, two parameters and the variance: 20·ln(5/20) + 6 + 24/16.
    expect(aicc(5, 20, 2)).toBeCloseTo(20 * Math.log(0.25) + 7.5, 12)
  })
  it('asks more of a model with more parameters, and nothing can be said of too few points', () => {
    expect(aicc(5, 20, 3)!).toBeGreaterThan(aicc(5, 20, 2)!)
    // Points that say half as much as they seem to.
    expect(aicc(5, 20, 2, 2)).toBeCloseTo(10 * Math.log(0.25) + 7.5, 12)
    expect(aicc(5, 4, 2)).toBeNull()
    expect(aicc(0, 20, 2)).toBeNull()
  })
})
