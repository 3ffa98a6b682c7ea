import { edit, edits, type Investigation } from '@apokinema/core/investigation'
import { THROWN, thrown } from '@apokinema/core/testing/thrown'
import { describe, expect, it } from 'vitest'
import { type ChronoChoice, chronoTask } from './chronophotograph.ts'

const SLOW = '00000000-0000-4000-8000-0000000000a1'

/** Two bodies on level ways, one at 2 m/s and one at half of that; 60 frames a second, 225 pixels a metre. */
function twoBodies(): Investigation {
  const document = thrown({ frames: 31, motion: (t) => ({ x: 2 * t, y: 0.5 }) })
  const graphs = {
    position: '00000000-0000-4000-8000-0000000000a2',
    velocity: '00000000-0000-4000-8000-0000000000a3',
  }
  return edit(document, (draft) => {
    edits.addBody(SLOW, graphs, 'Slow one')(draft)
    for (const [frame, { x }] of Object.entries(draft.bodies[THROWN.body].marks))
      draft.bodies[SLOW].marks[frame as unknown as number] = { x: 238 + (x - 238) / 2, y: 400, by: 'hand' }
  }).document
}

const choice: ChronoChoice = { bodies: [THROWN.body, SLOW], every: 10, arrows: 'velocity', grid: false }

describe('what a chronophotograph is made of', () => {
  it('is each body at every so many marks, laid over where it was', () => {
    const { cuts, words, lines } = chronoTask(twoBodies(), { ...choice, arrows: 'none' })!
    expect(cuts.map(({ frame }) => frame)).toEqual([0, 0, 10, 10, 20, 20, 30, 30])
    for (const { from, to } of cuts) expect(to).toEqual(from)
    expect([words, lines]).toEqual([[], []])
  })

  it('has arrows of both bodies by one scale, which is told by an arrow and its size', () => {
    const { lines, words } = chronoTask(twoBodies(), choice)!
    const shafts = lines.filter(({ points }) => points.length === 2)
    const long = ({ points: [a, b] }: (typeof lines)[number]) => Math.hypot(b.x - a.x, b.y - a.y)
    // Ends of a way have no velocity of their own; the last arrow is the scale's.
    const [fast, slow, scale] = [shafts[0], shafts[shafts.length - 2], shafts[shafts.length - 1]]
    expect(long(fast) / long(slow)).toBeCloseTo(2, 6)
    expect(words.map(({ text }) => text.replace(/\s/g, ' '))).toEqual(['velocity 1 m/s'])
    expect(long(scale)).toBeCloseTo(long(slow), 6)
  })

  it('says how far the lines of its grid are apart, in the unit of the investigation', () => {
    const inCentimetres = edit(twoBodies(), edits.setLengthUnit('cm')).document
    const { words } = chronoTask(inCentimetres, { ...choice, grid: true, arrows: 'none' })!
    expect(words.map(({ text }) => text.replace(/\s/g, ' '))).toEqual(['grid 50 cm'])
    expect(words[0].at.y).toBeLessThan(720)
  })

  it('is nothing without marks', () => {
    const none = edit(twoBodies(), (draft) => {
      for (const body of Object.values(draft.bodies)) body.marks = {}
    }).document
    expect(chronoTask(none, choice)).toBeNull()
  })
})
