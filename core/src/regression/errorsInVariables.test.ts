import { describe, expect, it } from 'vitest'
import { normalSource, randomSource } from '../random/index.ts'
import { FitError, fitRelation, maxCurvature, type Relation } from './index.ts'

const line: Relation = {
  evaluate: (x, y, { 0: a, 1: b }) => ({
    value: y - a - b * x,
    byX: -b,
    byY: 1,
    secondX: 0,
    secondY: 0,
    byParameters: [-1, -x],
  }),
}
const circle: Relation = {
  evaluate: (x, y, { 0: cx, 1: cy, 2: r }) => ({
    value: (x - cx) ** 2 + (y - cy) ** 2 - r * r,
    byX: 2 * (x - cx),
    byY: 2 * (y - cy),
    secondX: 2,
    secondY: 2,
    byParameters: [-2 * (x - cx), -2 * (y - cy), -2 * r],
  }),
}

/** Pearson's points with York's weights (York, Can. J. Phys. 44 (1966) 1079): the field's test of lines with errors in both. */
const PEARSON = {
  x: Float64Array.of(0, 0.9, 1.8, 2.6, 3.3, 4.4, 5.2, 6.1, 6.5, 7.4),
  y: Float64Array.of(5.9, 5.4, 4.4, 4.6, 3.5, 3.7, 2.8, 2.8, 2.4, 1.5),
  covariances: [
    [1000, 1],
    [1000, 1.8],
    [500, 4],
    [800, 8],
    [200, 20],
    [80, 20],
    [60, 70],
    [20, 70],
    [1.8, 100],
    [1, 500],
  ].map(([x, y]) => ({ xx: 1 / x, xy: 0, yy: 1 / y })),
}

describe('a relation between two quantities that both have errors', () => {
  it('is the line that York published for Pearson’s points, with its errors', () => {
    const { parameters, rss, cofactors } = fitRelation(line, [5, -0.4], PEARSON)
    expect(parameters[0]).toBeCloseTo(5.47991022403, 7)
    expect(parameters[1]).toBeCloseTo(-0.48053340745, 8)
    expect(rss).toBeCloseTo(11.8663531941, 7)
    expect(Math.sqrt(cofactors[0][0])).toBeCloseTo(0.295, 2)
    expect(Math.sqrt(cofactors[1][1])).toBeCloseTo(0.058, 3)
  })

  it('adjusts points to the nearest points of a circle for isotropic errors', () => {
    const normal = normalSource(randomSource(3))
    const turns = Array.from({ length: 40 }, (_, i) => (2 * Math.PI * i) / 40)
    const x = Float64Array.from(turns, (turn) => 2 + 3 * Math.cos(turn) + 0.1 * normal())
    const y = Float64Array.from(turns, (turn) => -1 + 3 * Math.sin(turn) + 0.1 * normal())
    const covariances = turns.map(() => ({ xx: 0.01, xy: 0, yy: 0.01 }))
    const found = fitRelation(circle, [1.5, 0, 2.5], { x, y, covariances: covariances })
    const [cx, cy, r] = found.parameters
    let rss = 0
    found.adjusted.forEach((place, i) => {
      const away = Math.hypot(x[i] - cx, y[i] - cy)
      expect(place.x).toBeCloseTo(cx + ((x[i] - cx) * r) / away, 6)
      expect(place.y).toBeCloseTo(cy + ((y[i] - cy) * r) / away, 6)
      rss += ((away - r) / 0.1) ** 2
    })
    expect(found.rss).toBeCloseTo(rss, 5)
    // No neighbouring circle has a smaller sum of squares.
    for (const [k, step] of [
      [0, 1e-3],
      [1, 1e-3],
      [2, 1e-3],
      [0, -1e-3],
      [1, -1e-3],
      [2, -1e-3],
    ] as const) {
      const beside = [cx, cy, r].map((one, m) => (m === k ? one + step : one))
      const left = Array.from(x, (one, i) => Math.hypot(one - beside[0], y[i] - beside[1]) - beside[2])
      expect(left.reduce((sum, one) => sum + (one / 0.1) ** 2, 0)).toBeGreaterThan(rss)
    }
    // A standard error of 0.1 in a radius of 3.
    expect(maxCurvature(circle, found, null)).toBeCloseTo(0.1 / r, 6)
  })

  it('uses the covariance of x and y: errors along the line do not count against it', () => {
    const x = Float64Array.of(0, 1, 2, 3)
    const y = Float64Array.of(0, 2, 4.3, 6)
    // The third point has an error along the line and a small one across it.
    const together = x.map(() => 0.04)
    const covariances = Array.from(together, (xx) => ({ xx, xy: 2 * xx * 0.99, yy: 4 * xx }))
    const apart = covariances.map(({ xx, yy }) => ({ xx, xy: 0, yy }))
    const [tight, loose] = [covariances, apart].map((errors) =>
      fitRelation(line, [0, 2], { x, y, covariances: errors }),
    )
    expect(tight.rss).toBeGreaterThan(20 * loose.rss)
  })

  it('is refused where points have no errors, or fit no such relation', () => {
    const none = PEARSON.covariances.map(() => ({ xx: 0, xy: 0, yy: 0 }))
    expect(() => fitRelation(line, [5, -0.4], { ...PEARSON, covariances: none })).toThrow(/errors-unknown/)
    expect(() => fitRelation(line, [Number.NaN, 0], PEARSON)).toThrow(FitError)
  })
})
