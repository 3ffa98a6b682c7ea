import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import { type DriftingColumn, driftFactor } from './driftFactor.ts'

/** Returns a column whose residuals are an autoregressive process of some deviation about their own mean, in so many errors. */
function column(
  points: number,
  correlation: number,
  drift: number | null,
  seed: number,
  size = 1,
): DriftingColumn {
  const normal = normalSource(randomSource(seed))
  let last = normal()
  const values = Float64Array.from({ length: points }, () => {
    last = correlation * last + Math.sqrt(1 - correlation ** 2) * normal()
    return size * last
  })
  const mean = values.reduce((sum, value) => sum + value, 0) / points
  return {
    correlation: drift,
    errors: new Float64Array(points).fill(1),
    frames: Array.from({ length: points }, (_, i) => i),
    residuals: values.map((value) => value - mean),
    jacobian: [new Float64Array(points).fill(1)],
  }
}

const longRun = (correlation: number) => (1 + correlation) / (1 - correlation)

describe('driftFactor', () => {
  it.each([
    [0.3, 0.6],
    [0.6, 0.6],
    [0.9, 0.7],
  ])(
    'is that of the variances of a mean, where errors correlate by %f and %f was reckoned with',
    (truth, drift) => {
      const logarithms = Array.from({ length: 20 }, (_, i) =>
        Math.log(driftFactor([column(4000, truth, drift, i + 1, 3)])),
      )
      const mean = logarithms.reduce((sum, one) => sum + one / 20, 0)
      // Reckoned with a wrong correlation, the variance of an error is told wrongly, too: whitened values have this one.
      const reckoned = (1 + drift ** 2 - 2 * truth * drift) / (1 - drift ** 2)
      expect(Math.exp(mean) / (longRun(truth) / (reckoned * longRun(drift)))).toBeCloseTo(1, 1)
    },
  )

  it('does not depend on the errors’ size, and is 1 where nothing drifts or little is told', () => {
    const small = driftFactor([column(60, 0.8, 0.6, 3)])
    expect(driftFactor([column(60, 0.8, 0.6, 3, 7)])).toBeCloseTo(small, 9)
    expect(driftFactor([column(60, 0.8, null, 3)])).toBe(1)
    expect(driftFactor([column(60, 0.8, 0.6, 3), column(60, 0.8, null, 4)])).toBe(1)
    expect(driftFactor([column(6, 0.8, 0.6, 3)])).toBe(1)
    expect(driftFactor([{ ...column(60, 0, 0.6, 1), residuals: new Float64Array(60) }])).toBe(1)
  })
})
