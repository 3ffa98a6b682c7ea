import { describe, expect, it } from 'vitest'
import { PLANK, plankSeries, plankTrial, trialId } from '../testing/plankSeries.ts'
import { keepNumbers, noteNumbers, readNumbers, SeriesAnalysis } from './index.ts'

const ANGLES = [5, 8, 11, 14]
const series = plankSeries(ANGLES)
const trialsNow = () => new Map(ANGLES.map((angle, i) => [trialId(i), plankTrial(angle, 60 + i)] as const))

describe('numbers of trials that were kept', () => {
  const documents = trialsNow()
  const whole = new SeriesAnalysis(series, documents)
  const [law] = whole.fits()
  const stored = new Map(
    // As a browser stores them: typed arrays stay, classes do not.
    [...documents].map(([id, document]) => [id, structuredClone(keepNumbers(document))] as const),
  )
  const kept = new Map([...stored].map(([id, numbers]) => [id, readNumbers(numbers)] as const))

  it('give the same table and the same law without the trials', () => {
    const bare = new SeriesAnalysis(series, new Map(), kept)
    for (const { id } of whole.table.rows())
      for (const column of [PLANK.acceleration, PLANK.angle, PLANK.sine])
        expect(bare.table.cell(id, column)).toMatchObject({
          kind: 'number',
          value: whole.table.values(column, [whole.table.rows().find((row) => row.id === id)!])[0],
        })
    const [again] = bare.fits()
    expect(again.readings.map(({ value, error }) => [value, error])).toEqual(
      law.readings.map(({ value, error }) => [value, error]),
    )
  })

  it('are those of the trial itself once it is there, and missing for others', () => {
    const others = trialsNow()
    const [first, second] = [trialId(0), trialId(1)]
    // The second one was marked anew: what was kept of the first stays out of it.
    const changed = new SeriesAnalysis(
      series,
      new Map([[second, plankTrial(8, 99)]]),
      new Map([[first, kept.get(first)!]]),
    )
    const accelerationIn = (analysis: SeriesAnalysis, trial: string) => {
      const cell = analysis.table.cell(trial, PLANK.acceleration)
      return cell.kind === 'number' ? cell.value.value : cell
    }
    expect(accelerationIn(changed, first)).toBe(accelerationIn(whole, first))
    expect(accelerationIn(changed, second)).not.toBe(accelerationIn(whole, second))
    expect(accelerationIn(changed, trialId(2))).toMatchObject({ trouble: { code: 'no-trial' } })
    noteNumbers(others.get(first)!, kept.get(first)!)
    expect(accelerationIn(new SeriesAnalysis(series, others), first)).toBe(accelerationIn(whole, first))
  })

  it('keep why there is none', () => {
    const document = trialsNow().get(trialId(0))!
    const broken = { ...document, fits: {} }
    const analysis = new SeriesAnalysis(series, new Map([[trialId(0), broken]]))
    expect(analysis.table.cell(trialId(0), PLANK.acceleration).kind).toBe('trouble')
    expect([...readNumbers(keepNumbers(broken)).values()]).toContain('gone')
  })
})
