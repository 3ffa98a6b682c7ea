import {
  type BlockContent,
  edit,
  edits,
  type Investigation,
  inOrder,
  type Mutator,
  type ValueSource,
} from '@apokinema/core/investigation'
import { liveValue, seriesValue } from '@apokinema/core/report'
import { readSeries, type Series, SeriesAnalysis, seriesEdits } from '@apokinema/core/series'
import { PLANK, plankSeries, plankTrial, trialId } from '@apokinema/core/testing/plankSeries'
import { measurement } from '@apokinema/core/units'
import { describe, expect, it } from 'vitest'
import { calculationBlock, fitBlock, frameBlock, graphBlock } from './choices.ts'
import {
  meanBlock,
  motionsBlock,
  seriesBlockChoices,
  seriesValueChoices,
  trialsBlock,
} from './seriesChoices.ts'
import { type NamedSeries, seriesSubject } from './seriesSubject.ts'
import { runsText, type Shown, shownText } from './shown.ts'
import { showReport } from './showReport.ts'
import { seriesTemplateBlocks } from './templates.ts'

const ANGLES = [5, 8, 11, 14]
const titles = new Map(ANGLES.map((angle, i) => [trialId(i), `Plank at ${angle}°`]))
const documents = new Map<string, Investigation>(
  ANGLES.map((angle, i) => [trialId(i), plankTrial(angle, 60 + i)]),
)
const id = (n: number) => `00000000-0000-4000-8000-0000000000${n}`
const [FRICTION, MOTION] = [id(70), id(71)]

const changed = (before: Series, ...mutators: Mutator<Series>[]): NamedSeries => {
  const series = mutators.reduce((now, mutator) => edit(now, mutator).document, before)
  return { written: series, analysis: new SeriesAnalysis(series, documents), titles }
}

const named = changed(
  plankSeries(ANGLES),
  seriesEdits.leaveOut(trialId(3), 'It was pushed.'),
  seriesEdits.setFit(PLANK.line, {
    expected: { reading: '', against: { kind: 'value', value: 9.81, error: 0, label: 'g' } },
  }),
  seriesEdits.setCalculation(FRICTION, {
    symbol: 'k',
    name: 'Friction',
    expression: '-c0_1/k_1',
    unit: '',
    against: null,
  }),
  seriesEdits.setMotion(MOTION, {
    graph: inOrder(documents.get(trialId(0))!.graphs)[0][0],
    alignment: { kind: 'release' },
  }),
)
const { analysis } = named
/** The same trials, as if they had been filmed under one condition. */
const repeated = changed(plankSeries(ANGLES.map(() => 8)))
const slope = analysis.fit(PLANK.line)!.readings.find(({ name }) => name === 'Slope')!

/** What one block shows in a series. */
function shown(content: BlockContent, of: NamedSeries = named): Shown {
  const series = edit(of.written as Series, edits.addBlocks([[id(80), content]], null)).document
  return showReport(seriesSubject({ ...of, written: series }, of))[0].shown
}
const resultOf = (content: BlockContent, of?: NamedSeries) => {
  const result = shown(content, of)
  if (result.kind !== 'result') throw new Error(`It shows ${result.kind}.`)
  return result
}

describe('a report of a series', () => {
  it('says how the first trial was measured, that the others were set up like it, and which do not count', () => {
    const text = shownText(shown({ kind: 'method', text: null, facts: '' }))
    expect(text).toContain('Plank at 5°: The clip throw.mp4')
    expect(text).toContain('The other 3 trials were set up like it.')
    expect(text).toContain('Plank at 14° does not count: It was pushed.')
  })

  it('has the table as it is shown, with whole errors', () => {
    const table = shown(trialsBlock())
    if (table.kind !== 'table') throw new Error('There is no table.')
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
    expect(table.label).toBe('Table 1')
    const narrow = shown({ ...trialsBlock(), columns: [PLANK.angle], errors: false } as BlockContent)
    expect(narrow).toMatchObject({ rows: [['Plank at 5°', '5.00'], ['Plank at 8°', '8.00'], {}, {}] })
  })

  it('has a law with its numbers in place, its readings and how close it is', () => {
    const law = resultOf(fitBlock(PLANK.line))
    expect(law.title).toMatch(/: acceleration against sine of the angle$/)
    expect(law.rows).toContainEqual([
      [expect.objectContaining({ text: 'Slope' })],
      measurement(slope.value, slope.error, slope.unit),
    ])
    expect(law.tex).toHaveLength(2)
    expect(law.rows.map(([name]) => runsText(name))).toContain('RMSE')
  })

  it('compares a law with what is expected, and shows what was calculated', () => {
    const compared = resultOf({ kind: 'comparison', fit: PLANK.line })
    expect(compared.sentences[0]).toMatch(/^Slope, 9\.81 expected: [\d.]+.% off/)
    expect(compared.rows[1][1]).toBe(measurement(9.81, 0, 'm/s²'))
    expect(resultOf(calculationBlock(FRICTION))).toMatchObject({ title: 'Friction' })
    const reading = resultOf({ kind: 'reading', fit: PLANK.line, reading: slope.id, budget: true })
    expect(reading.sentences[0]).toMatch(/^Of the error: /)
  })

  it('shows graphs and motions over each other as figures that say what is in them', () => {
    expect(shown(graphBlock(PLANK.graph))).toMatchObject({
      kind: 'figure',
      label: 'Figure 1',
      picture: { of: 'graph', graph: PLANK.graph },
      caption: expect.stringMatching(/^acceleration against sine of the angle, 3 trials, with the fit: /),
    })
    expect(shown(motionsBlock(MOTION, 'still'))).toMatchObject({
      picture: { of: 'motions', motion: MOTION, form: 'still' },
      alternative: expect.stringContaining('Plank at 5°, Plank at 8°, Plank at 11°.'),
    })
  })

  it('has means with their scatter', () => {
    const mean = resultOf(meanBlock(PLANK.acceleration), repeated)
    expect(mean.title).toBe('acceleration: mean of 4 trials')
    expect(mean.sentences[0]).toMatch(/^The trials scatter \d+ times as much/)
  })

  it('has no mean of trials under different conditions, and says so', () => {
    expect(shown(meanBlock(PLANK.acceleration))).toEqual({
      kind: 'missing',
      text: 'No mean is shown: the trials differ in plank angle.',
    })
  })

  it('says of blocks whose source is gone, or is none of a series, that it is no longer there', () => {
    const gone = id(99)
    const blocks = [
      graphBlock(gone),
      fitBlock(gone),
      motionsBlock(gone, 'graph'),
      meanBlock(gone),
      calculationBlock(gone),
      frameBlock(3),
    ]
    expect(blocks.map((block) => shown(block).kind)).toEqual(blocks.map(() => 'missing'))
  })

  it('changes its figures with the trials, and nothing else', () => {
    const digest = (of: NamedSeries) => {
      const figure = shown(graphBlock(PLANK.graph), of)
      return figure.kind === 'figure' ? figure.digest : ''
    }
    const counted = changed(named.written as Series, seriesEdits.leaveOut(trialId(3), null))
    const renamed = changed(named.written as Series, seriesEdits.setTitle('Other'))
    expect(digest(renamed)).toBe(digest(named))
    expect(digest(counted)).not.toBe(digest(named))
  })
})

describe('live values of a series', () => {
  const value = (source: ValueSource) => seriesValue(named.written, analysis, source)

  it('are those of the laws, the means, the calculations and the cells', () => {
    expect(value({ of: 'reading', fit: PLANK.line, reading: slope.id })).toMatchObject({
      value: slope.value,
      error: slope.error,
    })
    const acceleration = { of: 'column', column: PLANK.acceleration, statistic: 'mean' } as const
    const mean = repeated.analysis.table.mean(PLANK.acceleration)!
    expect(seriesValue(repeated.written, repeated.analysis, acceleration)).toMatchObject({
      value: mean.mean.value,
      error: mean.mean.error,
      unit: 'm/s²',
    })
    // Trials under different conditions have none.
    expect(value(acceleration)).toBeNull()
    expect(value({ of: 'cell', trial: trialId(1), column: PLANK.angle })).toMatchObject({
      value: 8,
      error: 0.1,
    })
    expect(value({ of: 'fit-comparison', fit: PLANK.line, value: 'expected' })).toMatchObject({ value: 9.81 })
    expect(value({ of: 'trials' })).toEqual({ kind: 'count', value: 3 })
    expect(value({ of: 'title' })).toEqual({ kind: 'text', text: named.written.title })
  })

  it('are null where the source is gone or is one of an investigation, and the other way round', () => {
    for (const source of [
      { of: 'cell', trial: id(99), column: PLANK.angle },
      { of: 'column', column: id(99), statistic: 'mean' },
      { of: 'calculation', calculation: id(99) },
      { of: 'scale' },
    ] as const)
      expect(value(source)).toBeNull()
    expect(liveValue(documents.get(trialId(0))!, { of: 'trials' })).toBeNull()
  })

  it('that can be chosen all have a value, the readings of laws first', () => {
    const choices = seriesValueChoices(named)
    expect(choices[0].source).toMatchObject({ of: 'reading', fit: PLANK.line })
    expect(choices.every(({ source }) => value(source) !== null)).toBe(true)
    expect(choices.map(({ label }) => label)).toContain('acceleration of Plank at 8°')
  })
})

describe('templates of a series', () => {
  it('are linked to its table, its graph and its law, and can be kept', () => {
    const blocks = seriesTemplateBlocks(named, 'lab-report')
    const kinds = blocks.map(({ kind }) => kind)
    for (const kind of ['method', 'trials', 'motions', 'graph', 'fit', 'reading', 'comparison'] as const)
      expect(kinds).toContain(kind)
    const series = edit(
      named.written as Series,
      edits.appendBlocks(blocks.map((block, i) => [id(10 + i), block] as const)),
    ).document
    expect(readSeries(JSON.parse(JSON.stringify(series)))).toEqual(series)
    const all = showReport(seriesSubject({ ...named, written: series }, named))
    expect(all.some(({ shown: { kind } }) => kind === 'missing')).toBe(false)
    expect(all.map(({ shown: one }) => shownText(one)).join('\n')).toContain(
      `Slope: ${measurement(slope.value, slope.error, slope.unit)}.`,
    )
  })

  it('are there for a series without trials', () => {
    const empty = changed(plankSeries([]))
    expect(seriesTemplateBlocks(empty, 'lab-report').map(({ kind }) => kind)).not.toContain('trials')
    expect(seriesBlockChoices(empty).map(({ group }) => group)).toContain('Text')
  })
})
