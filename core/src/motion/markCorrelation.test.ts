import { describe, expect, it } from 'vitest'
import { edit, newInvestigation } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { differenceVariance, errorShares, followedCorrelation } from './markCorrelation.ts'
import { markErrors } from './markError.ts'

/** Errors that correlate from one to the next, of unit variance. */
function process(count: number, correlation: number, normal: () => number): Float64Array {
  const errors = new Float64Array(count)
  errors[0] = normal()
  for (let i = 1; i < count; i++)
    errors[i] = correlation * errors[i - 1] + Math.sqrt(1 - correlation ** 2) * normal()
  return errors
}

describe('the correlation of followed marks', () => {
  it.each([0, 0.3, 0.6])('is found from 600 marks of a throw and a swing: %s', (correlation) => {
    const normal = normalSource(randomSource(Math.round(100 * correlation) + 3))
    const count = 600
    const frames = Array.from({ length: count }, (_, i) => i)
    const [alongX, alongY] = [process(count, correlation, normal), process(count, correlation, normal)]
    const x = frames.map((i) => 100 + 40 * Math.sin(i / 12) + 0.2 * alongX[i])
    const y = frames.map((i) => 3 * i - 0.004 * i * i + 0.2 * alongY[i])
    const found = followedCorrelation({ frames, x, y }, [{ first: 0, count }])
    expect(Math.abs(found - correlation)).toBeLessThan(0.1)
  })

  it('is found too small if it is strong: the motion takes part in a slow drift', () => {
    const normal = normalSource(randomSource(88))
    const frames = Array.from({ length: 600 }, (_, i) => i)
    const [x, y] = [process(600, 0.85, normal), process(600, 0.85, normal)]
    const found = followedCorrelation({ frames, x, y }, [{ first: 0, count: 600 }])
    expect(found).toBeGreaterThan(0.6)
    expect(found).toBeLessThan(0.85)
  })

  it('is what is usual of followed marks where a few marks tell nothing', () => {
    const frames = [0, 1, 2, 3]
    expect(followedCorrelation({ frames, x: frames, y: frames }, [{ first: 0, count: 4 }])).toBeCloseTo(
      0.6,
      1,
    )
  })

  it('corrects the error of marks, which is told by differences of neighbours', () => {
    // Four marks: 1, −3, 3, −1. With correlation r the variance is 20 − 30 r + 12 r² − 2 r³ (by hand).
    for (const r of [0, 0.4, 0.8])
      expect(differenceVariance(3, r)).toBeCloseTo((20 - 30 * r + 12 * r ** 2 - 2 * r ** 3) / 20, 12)
    const [truth, correlation, ratios] = [0.8, 0.7, [] as number[]]
    for (let seed = 0; seed < 12; seed++) {
      const normal = normalSource(randomSource(seed))
      const [alongX, alongY] = [process(240, correlation, normal), process(240, correlation, normal)]
      let i = 0
      const made = thrown({
        frames: 240,
        motion: (t) => ({ x: t, y: t }),
        place: ({ x, y }) => ({ x: x + truth * alongX[i], y: y + truth * alongY[i++] }),
      })
      const { document } = edit(made, (draft) => {
        for (const mark of Object.values(draft.bodies[THROWN.body].marks))
          Object.assign(mark, { by: 'follow', certainty: 1 })
      })
      ratios.push(markErrors(document.bodies[THROWN.body]).base / truth)
    }
    const mean = ratios.reduce((sum, one) => sum + one, 0) / ratios.length
    expect(Math.abs(mean - 1)).toBeLessThan(0.1)
  })

  it('is none where marks were set by hand, or there are none', () => {
    expect(markErrors(thrown({}).bodies[THROWN.body]).correlation).toBe(0)
    const { document } = edit(newInvestigation('empty'), () => {})
    expect(Object.keys(document.bodies)).toHaveLength(0)
  })
})

describe('shares of independent errors', () => {
  it('make the covariance that the correlation says, over uneven steps', () => {
    const frames = [0, 1, 2, 4, 5, 9, 10, 11]
    const rows = frames.map((_, i) => {
      const shares = errorShares(frames, i, 0.7)
      const row = new Array<number>(frames.length).fill(0)
      shares.forEach((share, k) => {
        row[i - k] += share
      })
      return row
    })
    rows.forEach((a, i) => {
      rows.forEach((b, j) => {
        const covariance = a.reduce((sum, one, k) => sum + one * b[k], 0)
        expect(Math.abs(covariance - 0.7 ** Math.abs(frames[i] - frames[j]))).toBeLessThan(0.02)
      })
    })
  })
})
