import { describe, expect, it } from 'vitest'
import { applyPatch, edit, NewerDocumentError } from '../../investigation/index.ts'
import { id } from '../../testing/built.ts'
import { PLANK, plankSeries, trialId } from '../../testing/plankSeries.ts'
import { newSeries, readSeries, SERIES_LIMITS, SERIES_VERSION, type Series, seriesEdits } from '../index.ts'

const series = plankSeries([5, 8, 11])
const asStored = (value: unknown) => JSON.parse(JSON.stringify(value)) as Series

describe('a series', () => {
  it('is read as it was stored, and frozen', () => {
    const read = readSeries(asStored(series))
    expect(read).toEqual(series)
    expect(Object.isFrozen(read.trials[trialId(0)].typed)).toBe(true)
    expect(readSeries(newSeries('Empty'))).toEqual(newSeries('Empty'))
  })

  it('of version 1 has no motions that are drawn over each other', () => {
    const { motions, report, ...before } = asStored(series)
    expect(readSeries({ ...before, version: 1 })).toEqual(series)
  })

  it('of version 2 has an empty report', () => {
    const { report, ...before } = asStored(series)
    expect(readSeries({ ...before, version: 2 })).toEqual(series)
  })

  it('keeps blocks of its report that are not known here, and refuses broken ones', () => {
    const reported = asStored(series)
    const strange = { kind: 'hologram', order: 0, pin: null, depth: 3 }
    const withBlock = (block: object) => ({
      ...reported,
      report: { ...series.report, blocks: { [id(90)]: block } },
    })
    expect(readSeries(withBlock(strange)).report.blocks[id(90)]).toMatchObject({
      kind: 'unknown',
      original: JSON.stringify(strange),
    })
    const mean = { kind: 'mean', column: id(91), budget: true, order: 0, pin: null }
    expect(readSeries(withBlock(mean)).report.blocks[id(90)]).toEqual(mean)
    expect(() => readSeries(withBlock({ ...mean, column: 'g' }))).toThrow(RangeError)
    expect(() => readSeries(withBlock({ ...mean, kind: 'motions' }))).toThrow(RangeError)
  })

  it('of a newer form is refused as newer', () => {
    expect(() => readSeries({ ...asStored(series), version: SERIES_VERSION + 1 })).toThrow(NewerDocumentError)
  })

  it.each<[string, (draft: Series) => void]>([
    [
      'a number that is text',
      (draft) => Object.assign(draft.trials[trialId(0)].typed[PLANK.angle], { value: '5' }),
    ],
    [
      'a negative error',
      (draft) => Object.assign(draft.trials[trialId(0)].typed[PLANK.angle], { error: -1 }),
    ],
    [
      'a cell of no column',
      (draft) => Object.assign(draft.trials[trialId(0)].typed, { [id(99)]: { kind: 'word', word: 'ice' } }),
    ],
    ['a trial that is no UUID', (draft) => Object.assign(draft.trials, { first: draft.trials[trialId(0)] })],
    [
      'an unknown view',
      (draft) => Object.assign(draft.trials[trialId(0)], { view: { kind: 'near', of: trialId(1) } }),
    ],
    [
      'a graph of a column that is gone',
      (draft) => delete (draft.columns as Record<string, unknown>)[PLANK.sine],
    ],
    ['a pattern that is no trial', (draft) => Object.assign(draft, { pattern: id(99) })],
    [
      'an unknown source',
      (draft) => Object.assign(draft.columns[PLANK.acceleration].content, { source: { of: 'title' } }),
    ],
    [
      'a level that is no number',
      (draft) =>
        Object.assign(draft.motions, {
          [id(90)]: { order: 0, graph: id(91), alignment: { kind: 'level', level: 'high' } },
        }),
    ],
    ['a field that nothing has', (draft) => Object.assign(draft, { owner: 'me' })],
    [
      'too many trials',
      (draft) => {
        for (let n = 0; n <= SERIES_LIMITS.trials; n++) draft.trials[id(1000 + n)] = draft.trials[trialId(0)]
      },
    ],
  ])('with %s is refused', (_, spoil) => {
    const draft = asStored(series)
    spoil(draft)
    expect(() => readSeries(draft)).toThrow(RangeError)
  })

  it.each<[string, Parameters<typeof edit<Series>>[1]]>([
    ['a trial taken out', seriesEdits.removeTrial(trialId(1))],
    ['a column removed with its graph and fit', seriesEdits.removeColumn(PLANK.sine)],
    ['a trial left out', seriesEdits.leaveOut(trialId(1), 'It was pushed.')],
    ['a word typed', seriesEdits.setTyped(trialId(1), PLANK.surface, { kind: 'word', word: 'ice' })],
    [
      'motions drawn over each other',
      seriesEdits.setMotion(id(90), { graph: id(91), alignment: { kind: 'level', level: 0.5 } }),
    ],
    ['a graph removed', seriesEdits.removeGraph(PLANK.graph)],
  ])('stays sound after %s, and undo brings it back', (_, mutator) => {
    const { document, patch, inverse } = edit(series, mutator)
    expect(patch).not.toEqual([])
    expect(readSeries(asStored(document))).toEqual(document)
    expect(applyPatch(document, inverse)).toEqual(series)
  })
})
