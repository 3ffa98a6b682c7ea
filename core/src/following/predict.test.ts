import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Predictor } from './predict.ts'

/** Returns a predictor that has seen a body at some times along a way. */
function seenAlong(times: readonly number[], way: (t: number) => { x: number; y: number }): Predictor {
  const predictor = new Predictor()
  for (const time of times) predictor.add(time, way(time))
  return predictor
}

const every = (step: number, count: number) => Array.from({ length: count }, (_, k) => k * step)

describe('what is foretold', () => {
  it('is the same place while nothing else is known, with no idea how far off', () => {
    const predicted = seenAlong([2], () => ({ x: 40, y: 30 })).at(2.1)
    expect(predicted).toMatchObject({ x: 40, y: 30, velocity: { x: 0, y: 0 }, by: 'stays' })
    expect(predicted.error).toBe(Number.POSITIVE_INFINITY)
  })

  it('goes on steadily after two places, before that was held against anything', () => {
    const predicted = seenAlong([0, 0.1], (t) => ({ x: 100 * t, y: 50 - 20 * t })).at(0.2)
    expect(predicted.by).toBe('steady')
    expect(predicted.x).toBeCloseTo(20, 9)
    expect(predicted.y).toBeCloseTo(46, 9)
    expect(predicted.velocity.x).toBeCloseTo(100, 9)
    expect(predicted.velocity.y).toBeCloseTo(-20, 9)
  })

  it('lies on the parabola of a throw, to which a straight line has no answer', () => {
    const way = (t: number) => ({ x: 30 + 150 * t, y: 200 - 260 * t + 490 * t * t })
    const predictor = seenAlong(every(1 / 30, 9), way)
    const predicted = predictor.at(9 / 30)
    expect(predicted.by).toBe('curved')
    expect(predicted.x).toBeCloseTo(way(0.3).x, 6)
    expect(predicted.y).toBeCloseTo(way(0.3).y, 6)
    expect(predicted.velocity.y).toBeCloseTo(-260 + 980 * 0.3, 4)
    expect(predicted.error).toBe(0.7)
  })

  it('is exact for any parabola at uneven times, forwards and backwards', () => {
    const number = fc.double({ min: -100, max: 100, noNaN: true })
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.01, max: 0.2, noNaN: true }), { minLength: 7, maxLength: 9 }),
        number,
        number,
        number,
        fc.boolean(),
        (steps, c, v, a, isForwards) => {
          const sign = isForwards ? 1 : -1
          let time = 0
          const times = steps.map((step) => {
            time += sign * step
            return time
          })
          const next = time + sign * 0.05
          // Bent by more than a pixel from frame to frame: straight lines are then found wanting.
          const way = (t: number) => ({ x: c + v * t + (3000 + a) * t * t, y: c - v * t })
          const predicted = seenAlong(times, way).at(next)
          expect(predicted.by).toBe('curved')
          expect(Math.abs(predicted.x - way(next).x)).toBeLessThan(1e-6 * (1 + Math.abs(way(next).x)))
          expect(Math.abs(predicted.y - way(next).y)).toBeLessThan(1e-6 * (1 + Math.abs(way(next).x)))
        },
      ),
    )
  })

  it('is less sure over a gap, and the longer the less', () => {
    const predictor = seenAlong(every(0.1, 6), (t) => ({ x: 80 * t, y: 10 }))
    const errors = [0.6, 0.8, 1.2].map((time) => predictor.at(time).error)
    expect(errors[1]).toBeGreaterThan(errors[0])
    expect(errors[2]).toBeGreaterThan(errors[1])
  })

  it('goes by the way that was lately right: a body that comes to rest stays', () => {
    const predictor = seenAlong(every(0.1, 6), (t) => ({ x: 200 * t, y: 0 }))
    expect(predictor.at(0.6).by).not.toBe('stays')
    for (let k = 6; k < 24; k++) predictor.add(0.1 * k, { x: 100, y: 0 })
    const predicted = predictor.at(2.4)
    expect(predicted.x).toBeCloseTo(100, 6)
    expect(predicted.velocity.x).toBeCloseTo(0, 6)
    expect(predicted.error).toBeLessThan(2)
  })

  it('follows what was seen since it was last asked for the same time', () => {
    const predictor = seenAlong([0, 0.1], (t) => ({ x: 10 * t, y: 0 }))
    expect(predictor.at(0.3).x).toBeCloseTo(3, 9)
    predictor.add(0.2, { x: 5, y: 0 })
    expect(predictor.at(0.3).x).toBeGreaterThan(4)
    predictor.restart(0.25, { x: 70, y: 9 })
    expect(predictor.at(0.3)).toMatchObject({ x: 70, y: 9, by: 'stays' })
  })
})
