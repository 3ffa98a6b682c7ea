import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { edit, edits, type ModelId } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { IS_SLOW } from '../testing/extent.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { doubtsOf, type FitSettings, fitColumn, longestStretch, suggestModels } from './index.ts'

const whole = { from: 0, to: 1000 }
/** Repeats of a suggestion, which asks every model. */
const SUGGESTIONS = IS_SLOW ? 20 : 10

function table(seed: number, motion: (t: number) => number, frames = 60, size = 0.3) {
  const normal = normalSource(randomSource(seed))
  return analyse(
    thrown({
      frames,
      motion: (t) => ({ x: 0.5, y: motion(t) }),
      place: ({ x, y }) => ({ x: x + size * normal(), y: y + size * normal() }),
    }),
  ).table(THROWN.body)
}

/** Returns a throw that was followed: its marks drift slowly by 0.25 px, neighbours alike. */
function followedThrow(seed: number) {
  const correlation = 0.93
  const normal = normalSource(randomSource(seed))
  let drift = normal()
  const made = thrown({
    frames: 90,
    place: ({ x, y }) => {
      const at = { x, y: y + 0.25 * drift + 0.05 * normal() }
      drift = correlation * drift + Math.sqrt(1 - correlation ** 2) * normal()
      return at
    },
  })
  const { document } = edit(made, (draft) => {
    for (const mark of Object.values(draft.bodies[THROWN.body].marks))
      Object.assign(mark, { by: 'follow', certainty: 1 })
  })
  return analyse(document).table(THROWN.body)
}

const MOTIONS: [ModelId, (t: number) => number][] = [
  ['rest', () => 1],
  ['uniform', (t) => 0.2 + 1.1 * t],
  ['uniform-acceleration', (t) => 0.2 + 4 * t - 4.905 * t * t],
  ['changing-acceleration', (t) => 0.2 + 2 * t - 3 * t * t + 2 * t ** 3],
  ['swing', (t) => 1 + 0.3 * Math.sin(11 * t)],
  ['damped-swing', (t) => 1 + 0.4 * Math.exp(-2 * t) * Math.sin(14 * t)],
  ['kink', (t) => (t < 0.42 ? 0.3 + 1.2 * t : 0.804 - 0.5 * (t - 0.42))],
  ['settling', (t) => 1.5 - 1.2 * Math.exp(-t / 0.2)],
]

describe('suggested first', () => {
  it.each(MOTIONS)('%s, where that is the motion, in at least 9 of 10 repeats', (model, motion) => {
    let right = 0
    for (let seed = 1; seed <= SUGGESTIONS; seed++) {
      const [best] = suggestModels(table(seed, motion), 'y', 0, whole)
      if (best.model === model) right++
    }
    expect(right).toBeGreaterThanOrEqual(0.9 * SUGGESTIONS)
  })

  it('is the true law where only the marks’ drift bends what it leaves, in at least 9 of 10 repeats', () => {
    let right = 0
    for (let seed = 1; seed <= SUGGESTIONS; seed++) {
      const [best] = suggestModels(followedThrow(seed), 'y', 0, whole)
      if (best.model === 'uniform-acceleration') right++
    }
    expect(right).toBeGreaterThanOrEqual(0.9 * SUGGESTIONS)
  })

  it('says how the others do', () => {
    const found = suggestModels(table(3, MOTIONS[2][1]), 'y', 0, whole)
    const verdicts = Object.fromEntries(found.map((one) => [one.model, one.verdict]))
    expect(verdicts['uniform-acceleration']).toEqual({ code: 'best' })
    expect(verdicts.uniform).toEqual({ code: 'bent' })
    expect(verdicts['changing-acceleration'].code).toMatch(/parameter/)
    expect(verdicts.swing.code).toBe('impossible')
  })
})

describe('the longest stretch on which a model holds', () => {
  it('ends where another motion begins', () => {
    // Thrown after a third of a second at rest, caught at a second.
    const motion = (t: number) =>
      t < 1 / 3 ? 0.5 : t < 1 ? 0.5 + 3 * (t - 1 / 3) - 4.905 * (t - 1 / 3) ** 2 : 0.5 + 2 - 4.905 * (4 / 9)
    const settings: FitSettings = { model: 'uniform-acceleration' }
    const found = longestStretch(table(5, motion, 90), 'y', { from: 32, to: 48 }, settings, {
      from: 0,
      to: 89,
    })!
    expect(Math.abs(found.from - 20)).toBeLessThanOrEqual(2)
    expect(Math.abs(found.to - 60)).toBeLessThanOrEqual(2)
  })

  it('is none where the model does not hold anywhere', () => {
    const wild = table(6, (t) => 1 + 0.4 * Math.sin(40 * t), 90)
    const settings: FitSettings = { model: 'uniform' }
    expect(longestStretch(wild, 'y', { from: 10, to: 80 }, settings, { from: 0, to: 89 })).toBeNull()
  })
})

describe('doubts about a fit', () => {
  const doubts = (of: ReturnType<typeof table>, quantity: string, settings: FitSettings, range = whole) =>
    doubtsOf(
      [fitColumn(of, quantity, range, settings)],
      (other) => [fitColumn(of, quantity, other, settings)],
      range,
      settings,
    ).map(({ code }) => code)

  it('are none where the model is right, in 48 of 50 repeats', () => {
    let quiet = 0
    for (let seed = 1; seed <= 50; seed++)
      if (doubts(table(100 + seed, MOTIONS[2][1]), 'y', { model: 'uniform-acceleration' }).length === 0)
        quiet++
    expect(quiet).toBeGreaterThanOrEqual(48)
  })

  it('tell a bend, too few points, too short a time, and that positions would be better', () => {
    expect(doubts(table(1, MOTIONS[2][1]), 'y', { model: 'uniform' })).toEqual(['bend'])
    const few = doubts(table(1, MOTIONS[2][1]), 'y', { model: 'uniform-acceleration' }, { from: 0, to: 3 })
    expect(few).toContain('few')
    const slow = table(1, (t) => 1.5 - 1.2 * Math.exp(-t / 2))
    expect(doubts(slow, 'y', { model: 'settling' })).toContain('few-time-constants')
    expect(doubts(table(2, MOTIONS[2][1]), 'vy', { model: 'uniform-acceleration' })).toEqual(['position'])
  })

  it('name the point that bends it, with the reading without it', () => {
    const { document } = edit(thrown({ frames: 40 }), edits.setMark(THROWN.body, 17, { x: 300, y: 300 }))
    const spoiled = analyse(document).table(THROWN.body)
    const settings: FitSettings = { model: 'uniform-acceleration' }
    const [doubt] = doubtsOf(
      [fitColumn(spoiled, 'y', whole, settings)],
      (other) => [fitColumn(spoiled, 'y', other, settings)],
      whole,
      settings,
    )
    expect(doubt).toMatchObject({ code: 'outlier', frame: 17 })
    expect(doubt.code === 'outlier' && doubt.without.value).toBeCloseTo(-9.81, 6)
  })

  /** Returns a throw with one mark that is off by some pixels upwards. */
  const spoiled = (off: number, motion?: (t: number) => { x: number; y: number }) => {
    const normal = normalSource(randomSource(12))
    const made = thrown({
      frames: 60,
      ...(motion && { motion }),
      place: ({ x, y }) => ({ x: x + 0.2 * normal(), y: y + 0.2 * normal() }),
    })
    const { x, y } = made.bodies[THROWN.body].marks[30]
    return analyse(edit(made, edits.setMark(THROWN.body, 30, { x, y: y - off })).document).table(THROWN.body)
  }

  it('tell a bend beside the point that lies off', () => {
    const fading = (t: number) => ({ x: t, y: 3 * t - 4.9 * t * t + 0.15 * t ** 3 })
    const found = doubts(spoiled(30, fading), 'y', { model: 'uniform-acceleration' })
    expect(found).toContain('outlier')
    expect(found).toContain('bend')
  })

  it('leave out a point that lies a little off in the middle, where it hardly moves the reading', () => {
    const [kinds, gross] = [1.2, 8].map((off) => doubts(spoiled(off), 'y', { model: 'uniform-acceleration' }))
    expect(gross).toEqual(['outlier'])
    expect(kinds).toEqual([])
  })
})
