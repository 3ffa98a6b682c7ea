import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { axesOf, edit, edits, type Investigation, type Mutator } from '../investigation/index.ts'
import { normalSource, randomSource } from '../random/index.ts'
import { PLANK } from '../testing/plankSeries.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { axesRuleOf, newTrial, settleTrial } from './index.ts'

const changed = (document: Investigation, ...mutators: Mutator[]) =>
  mutators.reduce((before, mutator) => edit(before, mutator).document, document)

/** Returns what rests, slides down a slope from a frame on, and is stopped 35 frames later. */
function slid(release: number, slope: number, seed: number): Investigation {
  const normal = normalSource(randomSource(seed))
  const document = thrown({
    frames: 80,
    motion: (t) => {
      const since = Math.min(35 / 60, Math.max(0, t - release / 60))
      const along = (9.81 * Math.sin(slope) * since ** 2) / 2
      return { x: along * Math.cos(slope), y: -along * Math.sin(slope) }
    },
    place: ({ x, y }) => ({ x: x + 0.2 * normal(), y: y + 0.2 * normal() }),
  })
  return changed(document, edits.setAxes({ tilt: -slope, tiltError: 0.001 }))
}

const pattern = changed(
  slid(20, 0.2, 1),
  edits.changeGraph(THROWN.position, { quantity: 'x' }),
  edits.addStretch(PLANK.stretch, THROWN.position, 21, 54),
  edits.addFit(PLANK.fit, PLANK.stretch, 'uniform-acceleration'),
)
/** Returns a trial of the pattern with the marks of another slide. */
function trialOf(other: Investigation): Investigation {
  const trial = newTrial(pattern, {
    title: 'Second',
    footage: other.footage!,
    view: { kind: 'same' },
  })
  return changed(trial, (draft) => {
    draft.bodies[THROWN.body].marks = other.bodies[THROWN.body].marks
  })
}

describe('a trial whose bodies are followed', () => {
  it('has its stretch where its own motion has the law of the pattern’s', () => {
    const trial = trialOf(slid(32, 0.2, 2))
    expect(trial.stretches[PLANK.stretch]).toMatchObject({ from: 0, to: 79 })
    const { mutators, open } = settleTrial(trial, pattern, 'taken-along')
    expect(open).toEqual([])
    const settled = changed(trial, ...mutators)
    const { from, to } = settled.stretches[PLANK.stretch]
    expect(from).toBeGreaterThanOrEqual(31)
    expect(from).toBeLessThanOrEqual(38)
    expect(to).toBeGreaterThanOrEqual(62)
    expect(to).toBeLessThanOrEqual(68)
    const { value, error } = analyse(settled).fit(PLANK.fit)!.fit!.reading
    expect(Math.abs(value - 9.81 * Math.sin(0.2))).toBeLessThan(4 * error)
  })

  it('has axes along its own motion, if each trial has its own', () => {
    const trial = trialOf(slid(25, 0.35, 3))
    const { mutators } = settleTrial(trial, pattern, 'along-motion')
    const axes = axesOf(changed(trial, ...mutators))
    expect(Math.abs(axes.tilt + 0.35)).toBeLessThan(Math.max(4 * axes.tiltError, 0.003))
    const along = settleTrial(trial, pattern, 'taken-along').mutators
    expect(axesOf(changed(trial, ...along)).tilt).toBe(-0.2)
  })

  it('has axes along its motion by rule only if the pattern’s are', () => {
    expect(axesRuleOf(pattern)).toBe('along-motion')
    expect(axesRuleOf(changed(pattern, edits.setAxes({ tilt: 0 })))).toBe('taken-along')
    expect(axesRuleOf(changed(pattern, edits.setAxes({ tilt: 0.4 })))).toBe('taken-along')
  })

  it('says which stretch it has no place for', () => {
    const still = trialOf(slid(79, 0.2, 4))
    expect(settleTrial(still, pattern, 'taken-along')).toEqual({ mutators: [], open: [PLANK.stretch] })
  })
})
