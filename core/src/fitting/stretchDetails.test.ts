import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { edit, edits } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { fitColumn, stretchDetails, stretchSummary } from './index.ts'

const whole = { from: 0, to: 1e6 }
const ERROR = 0.4
const PER_METRE = 315 / 1.4

/** Returns a body that swings along y with a period of 0.5 s and an amplitude of 0.3 m, 120 frames at 60 a second. */
function swinging(noise: () => number) {
  const start = thrown({ frames: 120 })
  return edit(start, (draft) => {
    const body = draft.bodies[THROWN.body]
    body.markError = ERROR
    for (const [frame, mark] of Object.entries(body.marks)) {
      mark.x = 238 + ERROR * noise()
      mark.y = 560 - PER_METRE * 0.3 * Math.cos((2 * Math.PI * Number(frame)) / 30 - 0.7) + ERROR * noise()
    }
  }).document
}
const PEAK = (0.7 / (2 * Math.PI)) * 0.5

describe('the details of a stretch', () => {
  it('are those of the values', () => {
    const table = analyse(thrown({})).table(THROWN.body)
    const found = stretchDetails(table, 'vy', { from: 10, to: 20 })
    expect(found.points).toBe(11)
    expect(found.median).toBeCloseTo(4.2 - 9.81 * (15 / 60), 9)
    expect([found.most, found.least]).toEqual([table.column('vy').values[10], table.column('vy').values[20]])
    // Eleven values a sixtieth of a second apart on a line of −9.81 m/s².
    expect(found.deviation).toBeCloseTo((9.81 / 60) * Math.sqrt(11), 9)
    const { values } = table.column('y')
    expect(found.area.value).toBeCloseTo(values[20] - values[10], 9)
    expect(stretchDetails(table, 'y', whole).peaks[0].time.value).toBeCloseTo(4.2 / 9.81, 9)
    expect(stretchDetails(table, 'vy', whole).crossings[0]).toMatchObject({ kind: 'down' })
    expect(stretchDetails(table, 'vy', whole).crossings[0].time.value).toBeCloseTo(4.2 / 9.81, 9)
  })

  it('tell peaks, crossings and the period of a swing, with errors that repeats scatter by', () => {
    const normal = normalSource(randomSource(3))
    const found = Array.from({ length: 400 }, () =>
      stretchDetails(analyse(swinging(normal)).table(THROWN.body), 'y', whole),
    )
    for (const { peaks, crossings, period } of found) {
      expect(peaks.map(({ kind }) => kind)).toEqual([
        'maximum',
        'minimum',
        'maximum',
        'minimum',
        'maximum',
        'minimum',
        'maximum',
        'minimum',
      ])
      expect(crossings).toHaveLength(8)
      expect(Math.abs(period!.mean - 0.5)).toBeLessThan(0.002)
    }
    for (const pick of [
      (one: (typeof found)[number]) => one.peaks[2].time,
      (one: (typeof found)[number]) => one.crossings[3].time,
    ]) {
      const times = found.map(pick)
      const mean = times.reduce((sum, { value }) => sum + value / times.length, 0)
      const scatter = Math.sqrt(times.reduce((sum, { value }) => sum + (value - mean) ** 2 / times.length, 0))
      const stated = times.reduce((sum, { error }) => sum + error / times.length, 0)
      expect(Math.abs(scatter / stated - 1)).toBeLessThan(0.12)
    }
    const third = found.reduce((sum, { peaks }) => sum + peaks[2].time.value / found.length, 0)
    expect(Math.abs(third - PEAK - 0.5)).toBeLessThan(0.0005)
  })
})

describe('points that are left out', () => {
  it('count for nothing, in the summary, the details and fits', () => {
    const { document } = edit(thrown({}), edits.setMark(THROWN.body, 15, { x: 10, y: 10 }))
    const table = analyse(document).table(THROWN.body)
    const range = { from: 10, to: 30, without: { 15: true } as const }
    const { reading, points } = fitColumn(table, 'y', range, { model: 'uniform-acceleration' })
    expect(reading.value).toBeCloseTo(-9.81, 6)
    expect(points).toBe(20)
    expect(stretchSummary(table, 'y', range).points).toBe(20)
    expect(stretchDetails(table, 'x', range).least).toBeCloseTo((2.6 * 10) / 60, 9)
  })
})
