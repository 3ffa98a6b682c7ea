import { describe, expect, it } from 'vitest'
import { type ColumnFit, doubtsOf, type FitSettings, fitColumns, fitPath } from '../fitting/index.ts'
import { edit, edits, type Investigation } from '../investigation/index.ts'
import type { Range } from '../motion/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { analyse, explain } from './index.ts'

const SETTINGS: FitSettings = { model: 'uniform-acceleration' }

/** Marks as a hand sets them. */
function hand(seed: number) {
  const normal = normalSource(randomSource(seed))
  return ({ x, y }: { x: number; y: number }) => ({ x: x + 0.35 * normal(), y: y + 0.35 * normal() })
}

/** Returns what would explain that the acceleration along y is not g. */
function suspects(investigation: Investigation, range = { from: 0, to: 1000 }) {
  const columns = [{ table: analyse(investigation).table(THROWN.body), quantity: 'y', model: SETTINGS.model }]
  const refit = (other: Range) => fitColumns(columns, other, SETTINGS)
  const fits = refit(range)
  return explain({
    investigation,
    fits,
    columns,
    range,
    refit,
    reading: fits[0].reading,
    again: ([fit]) => fit.reading,
    expected: { value: -9.81, error: 0 },
    doubts: doubtsOf(fits, refit, range, SETTINGS),
  })
}

/** Returns what would explain that a reading of a path, of one quantity against another, is not what is expected. */
function pathSuspects(
  investigation: Investigation,
  [quantity, xQuantity]: [string, string],
  settings: FitSettings,
  [key, value]: [string, number],
) {
  const range = { from: 0, to: 1000 }
  const table = analyse(investigation).table(THROWN.body)
  const refit = (other: Range) => [fitPath(table, quantity, xQuantity, other, settings)]
  const fits = refit(range)
  const again = ([fit]: readonly ColumnFit[]) => fit.readings.find((reading) => reading.key === key)
  return explain({
    investigation,
    fits,
    range,
    refit,
    again,
    columns: [{ table, quantity, model: settings.model }],
    reading: again(fits)!,
    expected: { value, error: 0 },
    doubts: doubtsOf(fits, refit, range, settings),
  })
}

const only = (investigation: Investigation, cause: string) =>
  suspects(investigation).find((suspect) => suspect.cause === cause)!

describe('what would explain a reading that misses', () => {
  it('names the reference length first where it was mistyped by 10 %', () => {
    const document = edit(thrown({ place: hand(1) }), (draft) => {
      for (const reference of Object.values(draft.references)) reference.length = 1.54
    }).document
    const [first] = suspects(document)
    expect(first.cause).toBe('scale')
    expect(first.size).toMatchObject({ code: 'reference', stated: 1.54, needed: expect.closeTo(1.4, 1) })
    expect(first.place).toBe('scale')
  })

  it('names a reference that another one contradicts before anything else', () => {
    const document = edit(thrown({ place: hand(2) }), (draft) => {
      const [reference] = Object.values(draft.references)
      reference.length = 1.4 * 1.137
      const other = '00000000-0000-4000-8000-000000000022'
      edits.addReference(other, [
        { x: 300, y: 600, frame: 0 },
        { x: 300 + 225, y: 600, frame: 0 },
      ])(draft)
      edits.changeReference(other, { length: 1, use: 'check' })(draft)
    }).document
    const [first] = suspects(document)
    expect([first.cause, first.support]).toEqual(['scale', 'for'])
  })

  it('names slow motion first where the capture rate is unset', () => {
    const fall = (t: number) => ({ x: 0.5, y: 1.3 - (9.81 / 2) * (t / 8) ** 2 })
    const ticks = Array.from({ length: 120 }, (_, i) => i * 512)
    const [first] = suspects(thrown({ ticks, motion: fall, place: hand(3) }))
    expect(first.cause).toBe('slow-motion')
    expect(first.size).toEqual({ code: 'playback', factor: expect.closeTo(8, 0) })
    expect(first.why).toEqual({ code: 'capture-rate-unset', rate: 240 })
  })

  it('names the stretch first where it goes over the release', () => {
    // Held still for a sixth of a second, then let go.
    const motion = (t: number) => ({ x: 0.4, y: 1.3 - (9.81 / 2) * Math.max(0, t - 1 / 6) ** 2 })
    const [first] = suspects(thrown({ frames: 40, motion, place: hand(4) }), { from: 6, to: 39 })
    expect([first.cause, first.support]).toEqual(['stretch', 'for'])
    expect(first.range!.from).toBeGreaterThan(6)
    expect(first.range!.to).toBe(39)
  })

  it('names a stray mark first', () => {
    const document = edit(
      thrown({ frames: 30, place: hand(5) }),
      edits.setMark(THROWN.body, 14, { x: 375, y: 160 }),
    ).document
    const [first] = suspects(document)
    expect([first.cause, first.frame]).toEqual(['outlier', 14])
  })

  it('names turned axes where the other axis shows what they make', () => {
    const tilt = (14 * Math.PI) / 180
    const document = edit(thrown({ place: hand(6) }), edits.setAxes({ tilt })).document
    const [first] = suspects(document)
    expect([first.cause, first.support]).toEqual(['tilt', 'for'])
    expect(first.size).toEqual({ code: 'tilt-angle', angle: expect.closeTo(tilt, 1) })
  })

  it('names drag where the acceleration fades along the stretch, and not where it does not', () => {
    // 20 % less by the end.
    const light = (t: number) => ({ x: 1, y: 1.4 - (9.81 / 2) * t * t + (0.5 * 3.2 * t ** 3) / 3 })
    expect(only(thrown({ frames: 45, motion: light, place: hand(7) }), 'drag').support).toBe('for')
    const short = edit(thrown({ place: hand(8) }), (draft) => {
      for (const reference of Object.values(draft.references)) reference.length = 1.2
    }).document
    expect(only(short, 'drag').support).toBe('against')
  })

  it('clears what can’t be: blur, a tilt that would make it larger', () => {
    const document = edit(thrown({ place: hand(9) }), (draft) => {
      for (const reference of Object.values(draft.references)) reference.length = 1.54
    }).document
    expect(only(document, 'blur').support).toBe('against')
    expect(only(document, 'tilt').support).toBe('against')
    expect(only(document, 'slow-motion').support).toBe('against')
  })

  it('tells of a path, too, that the reference was mistyped', () => {
    const document = edit(thrown({ place: hand(10) }), (draft) => {
      for (const reference of Object.values(draft.references)) reference.length = 1.54
    }).document
    const found = pathSuspects(document, ['y', 'x'], SETTINGS, ['bend', -9.81 / 2.6 ** 2])
    expect(found[0].cause).toBe('scale')
    expect(found[0].size).toMatchObject({ stated: 1.54, needed: expect.closeTo(1.4, 1) })
    // The path of a throw goes with no time: neither clock nor read-out can bend it.
    expect(found.map(({ cause }) => cause)).not.toContain('slow-motion')
    expect(found.find(({ cause }) => cause === 'stretch')!.support).toBe('against')
  })

  it('tells of a phase plot that the capture rate is unset', () => {
    const swing = (t: number) => ({ x: 1 + 0.4 * Math.cos((6 * t) / 8), y: 0.5 })
    const ticks = Array.from({ length: 500 }, (_, i) => i * 512)
    const [first] = pathSuspects(
      thrown({ ticks, motion: swing, place: hand(11) }),
      ['vx', 'x'],
      { model: 'ellipse' },
      ['omega', 6],
    )
    expect([first.cause, first.support]).toEqual(['slow-motion', 'for'])
    expect(first.why).toEqual({ code: 'capture-rate-unset', rate: 240 })
  })

  it('has nothing to say where nothing is read', () => {
    const columns = [{ table: analyse(thrown({})).table(THROWN.body), quantity: 'y', model: SETTINGS.model }]
    const range = { from: 0, to: 1000 }
    const refit = (other: Range) => fitColumns(columns, other, SETTINGS)
    const fits = refit(range)
    const nothing = explain({
      investigation: thrown({}),
      fits,
      columns,
      range,
      refit,
      reading: { ...fits[0].reading, value: 0 },
      again: ([fit]) => fit.reading,
      expected: { value: -9.81, error: 0 },
      doubts: [],
    })
    expect(nothing).toEqual([])
  })
})
