import { edit, type Investigation } from '@apokinema/core/investigation'
import { type Series, SeriesAnalysis, seriesEdits } from '@apokinema/core/series'
import { PLANK, plankSeries, plankTrial, trialId } from '@apokinema/core/testing/plankSeries'
import { measurement } from '@apokinema/core/units'
import { describe, expect, it } from 'vitest'
import { showSeriesReport } from './seriesReport.ts'
import { runsText, type Shown, shownText } from './shown.ts'

const ANGLES = [5, 8, 11, 14]
const TITLES = new Map(ANGLES.map((angle, i) => [trialId(i), `Plank at ${angle}°`]))
const documents = new Map<string, Investigation>(
  ANGLES.map((angle, i) => [trialId(i), plankTrial(angle, 60 + i)]),
)
const changed = (...mutators: Parameters<typeof edit<Series>>[1][]) =>
  new SeriesAnalysis(
    mutators.reduce((before, mutator) => edit(before, mutator).document, plankSeries(ANGLES)),
    documents,
  )
const GRAPH = { id: PLANK.graph, svg: '<svg/>', caption: 'The law.', alternative: 'Four trials on a line' }
const shownOf = (analysis: SeriesAnalysis, pictures = [GRAPH]) =>
  showSeriesReport(analysis, TITLES, pictures).map(({ shown }) => shown)
const results = (shown: readonly Shown[]) =>
  shown.filter((one): one is Extract<Shown, { kind: 'result' }> => one.kind === 'result')

describe('the report of a series', () => {
  const analysis = changed(
    seriesEdits.leaveOut(trialId(3), 'It was pushed.'),
    seriesEdits.setFit(PLANK.line, {
      expected: { reading: '', against: { kind: 'value', value: 9.81, error: 0, label: 'g' } },
    }),
    seriesEdits.setCalculation('00000000-0000-4000-8000-0000000000aa', {
      symbol: 'k',
      name: 'Friction',
      expression: '-c0_1/k_1',
      unit: '',
      against: null,
    }),
  )
  const shown = shownOf(analysis)

  it('says how the first trial was measured, and that the others were set up like it', () => {
    const text = shown.map(shownText).join('\n')
    expect(text).toContain('Plank at 5°: The clip throw.mp4')
    expect(text).toContain('The other 3 trials were set up like it.')
    expect(text).toContain('* Plank at 14° does not count: It was pushed.')
  })

  it('has the table as it is shown, with whole errors', () => {
    const table = shown.find((one) => one.kind === 'table')
    if (table?.kind !== 'table') throw new Error('There is no table.')
    expect(table.head.map(runsText)).toEqual([
      'Trial',
      'plank angle (°)',
      'surface',
      'acceleration (m/s²)',
      'sine of the angle',
    ])
    expect(table.rows.map(([title]) => title)).toEqual([
      'Plank at 5°',
      'Plank at 8°',
      'Plank at 11°',
      'Plank at 14° *',
    ])
    expect(table.rows[1][1]).toBe('8.00 ± 0.10')
  })

  it('has each graph with its law, compared with what is expected, and what was calculated', () => {
    const [law, friction] = results(shown)
    const fit = analysis.fit(PLANK.line)!
    const slope = fit.readings.find(({ name }) => name === 'Slope')!
    expect(law.rows).toContainEqual([
      [expect.objectContaining({ text: 'Slope' })],
      measurement(slope.value, slope.error, slope.unit),
    ])
    expect(law.sentences[0]).toMatch(/^Slope, 9\.81 expected: [\d.]+.% off/)
    expect(friction.title).toBe('Friction')
    const figure = shown.findIndex(({ kind }) => kind === 'figure')
    expect(shown[figure]).toMatchObject({ label: 'Figure 1', picture: { of: 'drawing', svg: '<svg/>' } })
    expect(shown[figure + 1]).toBe(law)
  })

  it('has means where no condition differs, and none where one does', () => {
    expect(results(shown).some(({ title }) => title.includes('mean of'))).toBe(false)
    const alike = changed(seriesEdits.removeColumn(PLANK.angle))
    const [mean] = results(shownOf(alike, []))
    expect(mean.title).toBe('acceleration: mean of 4 trials')
    expect(mean.sentences[0]).toMatch(/^The trials scatter \d+ times as much/)
  })

  it('is there for a series without trials', () => {
    const empty = new SeriesAnalysis(plankSeries([]), new Map())
    expect(showSeriesReport(empty, TITLES, []).some(({ shown: { kind } }) => kind === 'table')).toBe(true)
  })
})
