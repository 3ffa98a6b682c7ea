import { describe, expect, it } from 'vitest'
import {
  applyPatch,
  checkInvestigation,
  edit,
  edits,
  type Investigation,
  type Mutator,
} from '../investigation/index.ts'
import { footage, id } from '../testing/built.ts'
import { PLANK, plankTrial } from '../testing/plankSeries.ts'
import { THROWN } from '../testing/thrown.ts'
import { differingParts, newTrial, SETTINGS_PARTS, type SettingsPart, takeOverParts } from './index.ts'

const changed = (document: Investigation, ...mutators: Mutator[]) =>
  mutators.reduce((before, mutator) => edit(before, mutator).document, document)

const pattern = plankTrial(8, 1)
const trial = newTrial(pattern, {
  title: 'Second',
  footage: { ...footage, id: id(72), name: 'second.mp4' },
  view: { kind: 'same' },
})

const CHANGES: [SettingsPart, Mutator][] = [
  ['clock', edits.setCaptureRate(id(90), { from: null, to: null, rate: 240, known: null })],
  ['derivation', (draft) => Object.assign(draft, { outlierLimit: 7 })],
  [
    'quantities',
    (draft) => {
      draft.quantities[id(91)] = { order: 0, name: 'twice', symbol: 'w', unit: 'm', expression: '2*x' }
    },
  ],
  ['graphs', edits.changeGraph(THROWN.velocity, { title: 'Speed downhill' })],
  ['fits', edits.changeFit(PLANK.fit, { model: 'changing-acceleration' })],
  [
    'calculations',
    edits.setCalculation(id(92), { symbol: 'k', name: '', expression: 'a_1/g', unit: '', against: null }),
  ],
  ['free-fall', edits.setFreeFall({ value: 9.81, error: 0.01 })],
]

describe('a trial and its pattern', () => {
  it('have the same settings as it is new', () => {
    expect(differingParts(pattern, trial)).toEqual([])
  })

  it('are tested in every part', () => {
    expect(CHANGES.map(([part]) => part)).toEqual([...SETTINGS_PARTS])
  })

  it.each(CHANGES)(
    'differ in %s once it is changed, until it is taken over, and undo brings it back',
    (part, change) => {
      const after = changed(pattern, change)
      expect(differingParts(after, trial)).toEqual([part])
      const { document, inverse } = edit(trial, takeOverParts(after, [part]))
      expect(differingParts(after, document)).toEqual([])
      expect(checkInvestigation(JSON.parse(JSON.stringify(document)))).toEqual(document)
      expect(applyPatch(document, inverse)).toEqual(trial)
    },
  )

  it('do not differ in what belongs to one clip: marks, stretches, notes', () => {
    const measured = changed(
      trial,
      edits.setMark(THROWN.body, 3, { x: 100, y: 100 }),
      edits.changeStretch(PLANK.stretch, 5, 20),
      edits.noteOnGraph(id(93), THROWN.position, 3, 'here'),
    )
    expect(differingParts(pattern, measured)).toEqual([])
  })

  it('take over the frame rate, and leave one of a part of the frames, which is the trial’s own', () => {
    const part = { from: 3, to: 9, rate: 120, known: null }
    const own = changed(trial, edits.setCaptureRate(id(98), part))
    const after = changed(
      pattern,
      edits.setCaptureRate(id(90), { from: null, to: null, rate: 240, known: null }),
    )
    const { capture } = changed(own, takeOverParts(after, ['clock'])).timing
    expect(capture).toEqual({ [id(98)]: own.timing.capture[id(98)], [id(90)]: after.timing.capture[id(90)] })
  })

  it('take over a new fit with its stretch, and leave what is the trial’s own', () => {
    const [stretch, fit] = [id(94), id(95)]
    const after = changed(
      pattern,
      edits.addStretch(stretch, THROWN.velocity, 2, 9),
      edits.addFit(fit, stretch, 'uniform-acceleration'),
    )
    const own = changed(
      trial,
      edits.addStretch(id(96), THROWN.position, 0, 9),
      edits.addFit(id(97), id(96), 'uniform'),
      edits.noteOnGraph(id(93), THROWN.position, 3, 'here'),
    )
    expect(differingParts(after, own)).toEqual(['fits'])
    const document = changed(own, takeOverParts(after, ['fits', 'graphs']))
    expect(document.fits[fit].stretch).toBe(stretch)
    expect(document.fits[id(97)]).toEqual(own.fits[id(97)])
    expect(document.graphs[THROWN.position].notes).toEqual(own.graphs[THROWN.position].notes)
    expect(checkInvestigation(JSON.parse(JSON.stringify(document)))).toEqual(document)
  })

  it('pass over graphs and fits of a body that the trial does not have', () => {
    const [body, position, velocity] = [id(80), id(81), id(82)]
    const after = changed(
      pattern,
      edits.addBody(body, { position, velocity }, 'Second body'),
      edits.addStretch(id(94), position, 2, 9),
      edits.addFit(id(95), id(94), 'uniform'),
    )
    expect(differingParts(after, trial)).toEqual([])
    expect(changed(trial, takeOverParts(after, SETTINGS_PARTS))).toEqual(trial)
  })
})
