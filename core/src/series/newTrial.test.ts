import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { distance } from '../geometry/index.ts'
import { checkInvestigation, edit, edits } from '../investigation/index.ts'
import type { Registration } from '../registration/index.ts'
import { footage, id } from '../testing/built.ts'
import { PLANK, plankTrial } from '../testing/plankSeries.ts'
import { THROWN } from '../testing/thrown.ts'
import { newTrial } from './index.ts'

const pattern = [
  edits.setAxes({ tilt: 0.2 }),
  edits.setGravity({ direction: -1.5, error: 0.01 }),
  edits.setBreak(THROWN.body, 7, 'break'),
  edits.noteOnGraph(id(70), THROWN.position, 4, 'here'),
  edits.addReference(id(71), [
    { x: 300, y: 300, frame: 3 },
    { x: 500, y: 320, frame: 3 },
  ]),
].reduce((before, mutator) => edit(before, mutator).document, plankTrial(8, 1))

const clip = { ...footage, id: id(72), name: 'second.mp4' }

/** A camera that was shifted by (5, −3) px, turned by 0.3° and zoomed by 1 %. */
const [turn, zoom] = [(0.3 * Math.PI) / 180, 1.01]
const moved: Registration = {
  kind: 'moved',
  farthest: 9,
  error: 0.3,
  motion: {
    centre: { x: 640, y: 360 },
    parameters: Float64Array.of(zoom * Math.cos(turn), zoom * Math.sin(turn), 5, -3, 0, 0),
    // Known to 0.3 px, and exactly in all else.
    covariance: [0, 0, 0.09, 0.09, 0, 0].map((variance, i) =>
      Float64Array.from({ length: 6 }, (_, j) => (i === j ? variance : 0)),
    ),
  },
}
const trialWith = (view: Registration) => newTrial(pattern, { title: 'Second', footage: clip, view })

describe('a new trial', () => {
  it('sees the scene as the pattern did, though the camera moved', () => {
    const trial = trialWith(moved)
    const before = analyse(pattern).scene().at(0)!
    const after = analyse(trial).scene().at(0)!
    for (const at of [
      { x: 200, y: 500 },
      { x: 900, y: 100 },
      { x: 640, y: 360 },
    ]) {
      const [x, y] = [at.x - 640, at.y - 360]
      const seen = {
        x: 640 + zoom * (Math.cos(turn) * x - Math.sin(turn) * y) + 5,
        y: 360 + zoom * (Math.sin(turn) * x + Math.cos(turn) * y) - 3,
      }
      expect(distance(after.toScene(seen), before.toScene(at))).toBeLessThan(1e-9)
    }
    // Directions are counted from the right towards up, and the picture was turned the other way.
    expect(trial.gravity!.direction).toBeCloseTo(-1.5 - turn, 12)
    expect(trial.references[id(71)].ends[0]).toMatchObject({ frame: 0, error: Math.hypot(0.5, 0.3) })
  })

  it('has bodies, graphs, stretches and fits by the same ids, but nothing of the pattern’s clip', () => {
    const trial = trialWith({ ...moved, kind: 'same' })
    expect(checkInvestigation(JSON.parse(JSON.stringify(trial)))).toEqual(trial)
    expect(trial.references[id(2)].ends).toEqual(pattern.references[id(2)].ends)
    expect(trial.bodies[THROWN.body]).toMatchObject({
      name: pattern.bodies[THROWN.body].name,
      marks: {},
      breaks: {},
    })
    expect(trial.graphs[THROWN.position].notes).toEqual({})
    expect(trial.stretches[PLANK.stretch]).toMatchObject({ from: 0, to: 119, without: {} })
    expect(Object.keys(trial.fits)).toEqual(Object.keys(pattern.fits))
    expect(trial.footage).toEqual(clip)
    expect(trial.span).toEqual({ first: 0, last: 119, every: 1 })
  })

  it('has no scale and no axes if it shows another view', () => {
    const trial = trialWith({ kind: 'other', trouble: 'parts' })
    expect(checkInvestigation(JSON.parse(JSON.stringify(trial)))).toEqual(trial)
    expect(trial.references).toEqual({})
    expect(Object.values(trial.axes).map(({ placed }) => placed)).toEqual([false])
    expect(analyse(trial).scene().scale).toBeNull()
    expect(Object.keys(trial.fits)).toHaveLength(1)
  })
})
