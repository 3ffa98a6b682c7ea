import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { edit, edits, type Mutator } from '../investigation/index.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { arrowsOf, expectedPlace, roundBelow, roundTimes, shownTable } from './index.ts'

/** What is drawn on the picture beside the marks. */

const PIXELS_PER_METRE = 315 / 1.4
const changed = (...mutators: Mutator[]) =>
  mutators.reduce((document, mutator) => edit(document, mutator).document, thrown({}))

describe('the place in which a body is expected', () => {
  it('is where the throw goes on, and the last mark is told', () => {
    const document = changed(edits.clearMarks(THROWN.body, 20))
    const truth = thrown({}).bodies[THROWN.body].marks
    const { last, expected } = expectedPlace(document, analyse(document).scene(), THROWN.body, 20)!
    expect(last).toEqual({ x: truth[19].x, y: truth[19].y })
    expect(Math.hypot(expected!.x - truth[20].x, expected!.y - truth[20].y)).toBeLessThan(0.5)
    // Two frames are skipped.
    const later = expectedPlace(document, analyse(document).scene(), THROWN.body, 22)!.expected!
    expect(Math.hypot(later.x - truth[22].x, later.y - truth[22].y)).toBeLessThan(1)
  })

  it('is not told by what was before a break, or by a single mark', () => {
    const document = changed(edits.clearMarks(THROWN.body, 20), edits.setBreak(THROWN.body, 19, 'break'))
    expect(expectedPlace(document, analyse(document).scene(), THROWN.body, 20)!.expected).toBeNull()
    expect(expectedPlace(document, analyse(document).scene(), THROWN.body, 0)).toBeNull()
  })
})

describe('arrows', () => {
  it('are as long on the picture as the vectors say, by one round scale', () => {
    const document = changed()
    const table = analyse(document).table(THROWN.body)
    const {
      lists: [list],
      factor,
      perUnit,
      unit,
    } = arrowsOf(analyse(document).scene(), [table], 'velocity', 100)!
    expect(unit).toBe('m/s')
    expect(perUnit).toBeCloseTo(factor * PIXELS_PER_METRE, 9)
    expect(roundBelow(factor)).toBeCloseTo(factor, 12)
    const [first] = list
    expect(first.frame).toBe(1)
    expect(first.by.x).toBeCloseTo(2.6 * PIXELS_PER_METRE, 6)
    // Upwards is against the picture's y.
    expect(first.by.y).toBeCloseTo(-(4.2 - 9.81 / 60) * PIXELS_PER_METRE, 6)
    const lengths = list.map(({ by }) => factor * Math.hypot(by.x, by.y))
    expect(Math.max(...lengths)).toBeLessThanOrEqual(100)
    expect(Math.max(...lengths)).toBeGreaterThan(40)
  })

  it('of several bodies are drawn to one scale, that of the longest of all', () => {
    const document = changed()
    const table = analyse(document).table(THROWN.body)
    const alone = arrowsOf(analyse(document).scene(), [table], 'velocity', 100)!
    const still = analyse(thrown({ place: () => ({ x: 5, y: 5 }) })).table(THROWN.body)
    const slow = analyse(thrown({ motion: (t) => ({ x: 0.05 * t, y: 0 }) })).table(THROWN.body)
    const both = arrowsOf(analyse(document).scene(), [slow, still, table], 'velocity', 100)!
    expect([both.factor, both.perUnit]).toEqual([alone.factor, alone.perUnit])
    expect(both.lists[2]).toEqual(alone.lists[0])
    expect(both.lists[0][3].by.x).toBeCloseTo(0.05 * PIXELS_PER_METRE, 6)
    expect(both.lists[1].every(({ size }) => size < 1e-9)).toBe(true)
  })

  it('are the same in another unit of length, which their scale is told in', () => {
    const document = changed()
    const table = analyse(document).table(THROWN.body)
    const metres = arrowsOf(analyse(document).scene(), [table], 'acceleration', 100)!
    const feet = arrowsOf(analyse(document).scene(), [shownTable(table, 'cm')], 'acceleration', 100)!
    expect(feet.lists[0][5].by.y).toBeCloseTo(metres.lists[0][5].by.y, 6)
    expect(feet.unit).toBe('cm/s²')
    expect(feet.perUnit).toBeCloseTo(metres.perUnit / 100, 9)
    expect(metres.lists[0][5].size).toBeCloseTo(9.81, 6)
  })

  it('of momentum are those of velocity times the mass, and none where that is not known', () => {
    const without = changed()
    expect(
      arrowsOf(analyse(without).scene(), [analyse(without).table(THROWN.body)], 'momentum', 100),
    ).toBeNull()
    const document = changed(edits.changeBody(THROWN.body, { mass: { value: 0.25, error: 0.001 } }))
    const table = analyse(document).table(THROWN.body)
    const velocity = arrowsOf(analyse(document).scene(), [table], 'velocity', 100)!
    const momentum = arrowsOf(analyse(document).scene(), [table], 'momentum', 100)!
    expect(momentum.unit).toBe('kg·m/s')
    momentum.lists[0].forEach(({ at, by, size }, i) => {
      expect(at).toEqual(velocity.lists[0][i].at)
      expect(size).toBeCloseTo(0.25 * velocity.lists[0][i].size, 9)
      expect(by.x * velocity.lists[0][i].by.y).toBeCloseTo(by.y * velocity.lists[0][i].by.x, 6)
    })
    // Before it is multiplied by its round factor, a unit of either has the same length on the picture.
    expect(momentum.perUnit / momentum.factor).toBeCloseTo(velocity.perUnit / velocity.factor, 9)
  })

  it('follow tilted axes', () => {
    const document = changed(edits.setAxes({ tilt: 0.7, turnedX: true }))
    const {
      lists: [list],
    } = arrowsOf(analyse(document).scene(), [analyse(document).table(THROWN.body)], 'acceleration', 100)!
    expect(list[3].by.x).toBeCloseTo(0, 6)
    expect(list[3].by.y).toBeCloseTo(9.81 * PIXELS_PER_METRE, 6)
  })

  it('are none of a body that has not moved, or has no three marks', () => {
    const still = thrown({ place: () => ({ x: 5, y: 5 }) })
    expect(arrowsOf(analyse(still).scene(), [analyse(still).table(THROWN.body)], 'velocity', 100)).toBeNull()
    const two = changed(edits.clearMarks(THROWN.body, 2))
    expect(arrowsOf(analyse(two).scene(), [analyse(two).table(THROWN.body)], 'velocity', 100)).toBeNull()
  })

  it.each([
    [0.7, 0.5],
    [1, 1],
    [0.2, 0.2],
    [4999, 2000],
    [5e-4, 5e-4],
  ])('have a round scale below %s: %s', (value, round) => {
    expect(roundBelow(value)).toBeCloseTo(round, 12)
  })
})

describe('round times', () => {
  it('stand at the nearest points, as many as there is room for', () => {
    const times = Array.from({ length: 61 }, (_, i) => i / 60)
    expect(roundTimes(times, 20).map(({ row }) => row)).toEqual([0, 6, 12, 18, 24, 30, 36, 42, 48, 54, 60])
    expect(roundTimes(times, 6).map(({ row }) => row)).toEqual([0, 12, 24, 36, 48, 60])
    expect(roundTimes(times, 6)[1].time).toBeCloseTo(0.2, 12)
  })

  it('are left out where no point is near', () => {
    const times = [0, 0.03, 0.06, 0.09, 0.31, 0.34]
    expect(roundTimes(times, 20).map(({ time }) => Math.round(10 * time))).toEqual([0, 1, 3])
    expect(roundTimes([0.96, 1.04], 20).map(({ row }) => row)).toHaveLength(1)
    expect(roundTimes([], 20)).toEqual([])
  })
})
