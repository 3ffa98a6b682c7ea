import { describe, expect, it } from 'vitest'
import { axesOf, edit, edits } from '../investigation/index.ts'
import { applyMap, rowProduct } from '../regression/index.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { afterOscillations, motionTable, threePointSlope, turningPoints } from './index.ts'

describe('three-point slope', () => {
  it('is exact for uniform acceleration on uneven times', () => {
    const times = [0, 0.1, 0.15, 0.4, 0.41]
    const slopes = applyMap(
      threePointSlope(times),
      times.map((t) => 2 - 3 * t + 4 * t * t),
    )
    slopes.forEach((slope, i) => {
      expect(slope).toBeCloseTo(-3 + 8 * times[i + 1], 10)
    })
  })

  it('misses by h₁h₂x‴/6 where the acceleration changes', () => {
    const [slope] = applyMap(threePointSlope([-0.1, 0, 0.3]), [-0.001, 0, 0.027])
    expect(slope).toBeCloseTo((0.1 * 0.3 * 6) / 6, 12)
  })

  it('knows that neighbours share marks', () => {
    const map = threePointSlope([0, 1, 2, 3, 4])
    expect(rowProduct(map, 0, 0)).toBeCloseTo(0.5, 12)
    expect(rowProduct(map, 0, 1)).toBeCloseTo(0, 12)
    expect(rowProduct(map, 0, 2)).toBeCloseTo(-0.25, 12)
  })

  it('gives nothing for fewer than three points', () => {
    expect(threePointSlope([0, 1]).start).toEqual([])
  })
})

describe('motion table', () => {
  it('has the true positions and velocities of a throw in metres', () => {
    const table = motionTable(thrown({}), THROWN.body)
    expect(table.length).toBe('m')
    table.frames.forEach((_, row) => {
      const t = table.times[row]
      expect(table.columns.x.values[row]).toBeCloseTo(2.6 * t, 9)
      expect(table.columns.y.values[row]).toBeCloseTo(4.2 * t - (9.81 / 2) * t * t, 9)
    })
    expect(table.columns.vy.values[0]).toBeNaN()
    expect(table.columns.vy.values[49]).toBeNaN()
    expect(table.columns.vy.values[20]).toBeCloseTo(4.2 - 9.81 * table.times[20], 8)
    expect(table.columns.vy.unit).toBe('m/s')
  })

  it('counts time from the first frame of the span and leaves out marks that are not in it', () => {
    const { document } = edit(thrown({}), edits.setSpan({ first: 10, last: 20, every: 3 }))
    const table = motionTable(document, THROWN.body)
    expect(table.frames).toEqual([10, 13, 16, 19])
    expect(table.times[1]).toBeCloseTo(3 / 60, 12)
    expect(Object.keys(document.bodies[THROWN.body].marks)).toHaveLength(50)
  })

  it('is in pixels without a reference length and follows the axes', () => {
    const { document } = edit(thrown({}), (draft) => {
      draft.references = {}
      axesOf(draft).tilt = Math.PI / 2
    })
    const table = motionTable(document, THROWN.body)
    expect(table.columns.vx.unit).toBe('px/s')
    expect(table.columns.x.values[0]).toBeCloseTo(0, 9)
    expect(table.columns.y.values[10]).toBeCloseTo(-(315 / 1.4) * 2.6 * table.times[10], 9)
  })

  it('goes over a gap with true times and invents nothing', () => {
    const { document } = edit(thrown({}), edits.removeMark(THROWN.body, 20))
    const table = motionTable(document, THROWN.body)
    expect(table.frames).not.toContain(20)
    const row = table.frames.indexOf(21)
    expect(table.columns.vy.values[row]).toBeCloseTo(4.2 - 9.81 * table.times[row], 8)
  })

  it('is empty for a body without marks and refuses an unknown one', () => {
    const { document } = edit(thrown({}), (draft) => {
      draft.bodies[THROWN.body].marks = {}
    })
    expect(motionTable(document, THROWN.body).frames).toEqual([])
    expect(() => motionTable(document, 'nobody')).toThrow(RangeError)
  })
})

describe('oscillations', () => {
  const swing = Array.from({ length: 400 }, (_, i) => Math.exp(-i / 400) * Math.cos((2 * Math.PI * i) / 60))

  it('turn back at every half period', () => {
    turningPoints(swing).forEach((at, n) => {
      expect(Math.abs(at - 30 * (n + 1))).toBeLessThanOrEqual(1)
    })
    expect(turningPoints(swing)).toHaveLength(13)
  })

  it('are counted from where the body is let go', () => {
    expect(Math.abs(afterOscillations(swing, 1)! - 60)).toBeLessThanOrEqual(1)
    expect(Math.abs(afterOscillations(swing, 3)! - 180)).toBeLessThanOrEqual(1)
    expect(afterOscillations(swing, 20)).toBeNull()
  })

  it('are none in noise, in a straight line, and in nothing', () => {
    expect(turningPoints([0, 1, 2, 3, 4])).toEqual([])
    expect(turningPoints([0, 5, 10, 9.9, 20, 19.8, 30])).toEqual([])
    expect(turningPoints([])).toEqual([])
    expect(turningPoints([1, 1, 1])).toEqual([])
  })
})
