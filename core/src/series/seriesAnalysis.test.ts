import { describe, expect, it } from 'vitest'
import type { Estimate } from '../fitting/index.ts'
import { edit, edits, type Investigation } from '../investigation/index.ts'
import { id } from '../testing/built.ts'
import { PLANK, PLANK_TRUTH, plankSeries, plankTrial, trialId } from '../testing/plankSeries.ts'
import { type Cell, SERIES_LIMITS, type Series, SeriesAnalysis, SeriesTable, seriesEdits } from './index.ts'

const ANGLES = [5, 8, 11, 14, 17]
const documentsOf = (angles: readonly number[], options = {}) =>
  new Map<string, Investigation | null>(
    angles.map((angle, i) => [trialId(i), plankTrial(angle, 50 + i, options)]),
  )
const documents = documentsOf(ANGLES)
const changed = (series: Series, ...mutators: Parameters<typeof edit<Series>>[1][]) =>
  mutators.reduce((before, mutator) => edit(before, mutator).document, series)

function numberIn(cell: Cell) {
  if (cell.kind !== 'number') throw new Error(`no number: ${JSON.stringify(cell)}`)
  return cell.value
}

describe('the table of trials', () => {
  const table = new SeriesTable(plankSeries(ANGLES), documents)

  it('has what was typed, what is read in each trial, and what follows from both', () => {
    for (const [i, angle] of ANGLES.entries()) {
      expect(numberIn(table.cell(trialId(i), PLANK.angle))).toMatchObject({ value: angle, own: 0.1 })
      const sine = numberIn(table.cell(trialId(i), PLANK.sine))
      const radians = (angle * Math.PI) / 180
      expect(sine.value).toBeCloseTo(Math.sin(radians), 12)
      expect(sine.own).toBeCloseTo((Math.cos(radians) * (0.1 * Math.PI)) / 180, 12)
      const truth = PLANK_TRUTH.g * Math.sin(radians) - PLANK_TRUTH.friction
      const { value, own } = numberIn(table.cell(trialId(i), PLANK.acceleration))
      expect(Math.abs(value - truth)).toBeLessThan(4 * own)
    }
    expect(table.column(PLANK.acceleration)).toMatchObject({ unit: 'm/s²' })
  })

  it('knows which errors the trials share: those of one ruler, if the camera stood where it was', () => {
    const { shared } = numberIn(table.cell(trialId(1), PLANK.acceleration))
    const sources = [...shared.values()].map(({ source }) => source)
    expect(sources).toContain('placing')
    const mean = table.mean(PLANK.acceleration)!.mean
    const scale = (of: typeof mean) => of.parts.find(({ source }) => source === 'placing')
    // Half a pixel at either end of 315: its effect on the mean is that share of the mean.
    expect(scale(mean)!.error / mean.value).toBeCloseTo((0.5 * Math.SQRT2) / 315, 4)
    const apart = new SeriesTable(plankSeries(ANGLES, false), documents)
    const separate = scale(apart.mean(PLANK.acceleration)!.mean)!.error / mean.value
    expect(separate).toBeLessThan((0.6 * scale(mean)!.error) / mean.value)
  })

  it('sorts and groups by a condition, with equal and missing values in their place', () => {
    const series = changed(
      plankSeries([8, 5, 8, 11]),
      seriesEdits.setTyped(trialId(3), PLANK.angle, null),
      seriesEdits.sortBy({ column: PLANK.angle, descending: false }),
      seriesEdits.groupBy(PLANK.angle),
    )
    const sorted = new SeriesTable(series, documentsOf([8, 5, 8, 11]))
    expect(sorted.rows().map((row) => row.id)).toEqual([1, 0, 2, 3].map(trialId))
    expect(sorted.groups().map(({ trials }) => trials.length)).toEqual([1, 2, 1])
  })

  it('brings readings in other units of length into one, and refuses those of another kind', () => {
    const mixed = new Map(documents)
    const second = documents.get(trialId(1))!
    mixed.set(trialId(1), { ...second, lengthUnit: 'cm' })
    mixed.set(
      trialId(2),
      edit(documents.get(trialId(2))!, edits.changeFit(PLANK.fit, { model: 'uniform' })).document,
    )
    const odd = new SeriesTable(plankSeries(ANGLES), mixed)
    const [inMetres, inCentimetres] = [table, odd].map((one) =>
      numberIn(one.cell(trialId(1), PLANK.acceleration)),
    )
    expect(inCentimetres.value).toBeCloseTo(inMetres.value, 9)
    expect(inCentimetres.own).toBeCloseTo(inMetres.own, 9)
    expect(odd.cell(trialId(2), PLANK.acceleration)).toMatchObject({
      kind: 'trouble',
      trouble: { code: 'other-unit', unit: 'm/s' },
    })
    expect(odd.mean(PLANK.acceleration)!.count).toBe(4)
  })

  it('takes five hundred trials', () => {
    const angles = Array.from({ length: SERIES_LIMITS.trials }, (_, i) => ANGLES[i % ANGLES.length])
    const many = new SeriesAnalysis(
      plankSeries(angles),
      new Map(angles.map((_, i) => [trialId(i), documents.get(trialId(i % ANGLES.length))!])),
    )
    const shown = many.fit(PLANK.line)!
    expect(shown.fit!.solution.whitenedResiduals).toHaveLength(SERIES_LIMITS.trials)
    expect(many.table.mean(PLANK.acceleration)!.count).toBe(SERIES_LIMITS.trials)
    expect(many.table.rows()).toHaveLength(SERIES_LIMITS.trials)
  })

  it('says why a cell has no number, and loses nothing of the others', () => {
    const broken = new Map(documents)
    broken.set(trialId(0), null)
    broken.set(trialId(1), edit(documents.get(trialId(1))!, edits.removeReference(id(2))).document)
    broken.set(trialId(2), edit(documents.get(trialId(2))!, edits.removeFit(PLANK.fit)).document)
    const series = changed(plankSeries(ANGLES), seriesEdits.setTyped(trialId(3), PLANK.angle, null))
    const odd = new SeriesTable(series, broken)
    const troubleIn = (trial: number, column: string) => {
      const cell = odd.cell(trialId(trial), column)
      return cell.kind === 'trouble' ? cell.trouble : cell.kind
    }
    expect(troubleIn(0, PLANK.acceleration)).toEqual({ code: 'no-trial' })
    expect(troubleIn(1, PLANK.acceleration)).toEqual({ code: 'no-scale' })
    expect(troubleIn(2, PLANK.acceleration)).toEqual({ code: 'gone' })
    expect(troubleIn(3, PLANK.angle)).toBe('empty')
    expect(troubleIn(3, PLANK.sine)).toEqual({ code: 'missing', name: 'theta' })
    expect(odd.mean(PLANK.acceleration)!.count).toBe(2)
  })

  it('refuses a unit that is not the column’s, an unknown name, and an expression of itself', () => {
    const expression = (text: string) => ({ kind: 'expression', expression: text }) as const
    const column = { name: 'odd', symbol: 'odd', unit: '' }
    const made = (content: ReturnType<typeof expression>, unit = '') =>
      new SeriesTable(
        changed(plankSeries(ANGLES), seriesEdits.setColumn(id(50), { ...column, unit, content })),
        documents,
      ).cell(trialId(0), id(50))
    expect(made(expression('2*a'), 'kg')).toMatchObject({ trouble: { code: 'other-unit' } })
    expect(made(expression('2*b'))).toMatchObject({
      trouble: { code: 'expression', problem: { code: 'unknown-name', name: 'b' } },
    })
    expect(made(expression('odd + 1'))).toMatchObject({
      trouble: { code: 'expression', problem: { code: 'circular', isDirect: true } },
    })
    expect(numberIn(made(expression('a/9.81'), 'cm/s²')).value).toBeGreaterThan(0)
  })
})

describe('a line through trials', () => {
  const analysis = new SeriesAnalysis(plankSeries(ANGLES), documents)

  it('has g as its slope and friction as its intercept', () => {
    const { fit, outliers } = analysis.fit(PLANK.line)!
    const [intercept, slope] = fit!.parameters
    expect(slope.unit).toBe('m/s²')
    expect(Math.abs(slope.value - PLANK_TRUTH.g)).toBeLessThan(
      Math.min(3 * slope.error, 0.02 * PLANK_TRUTH.g),
    )
    expect(Math.abs(intercept.value + PLANK_TRUTH.friction)).toBeLessThan(3 * intercept.error)
    expect(outliers).toEqual([])
  })

  it('carries a ruler that was misplaced into the slope, which says so', () => {
    const misplaced = new SeriesAnalysis(plankSeries(ANGLES), documentsOf(ANGLES, { noise: 0.05, end: 6 }))
    const [, slope] = misplaced.fit(PLANK.line)!.fit!.parameters
    // The reference is 6 of 315 px too short, so everything is measured that much too long.
    expect(slope.value / PLANK_TRUTH.g).toBeCloseTo(315 / 309, 2)
    expect(slope.parts.find(({ source }) => source === 'placing')!.error / slope.value).toBeCloseTo(
      (0.5 * Math.SQRT2) / 309,
      4,
    )
  })

  it('leaves out trials that a person left out, and names those that lie off', () => {
    const angles = [4, 6, 8, 10, 12, 14, 16, 18]
    const series = plankSeries(angles)
    const odd = documentsOf(angles)
    odd.set(trialId(4), plankTrial(15, 7))
    const all = new SeriesAnalysis(series, odd).fit(PLANK.line)!
    expect(all.outliers).toEqual([trialId(4)])
    const without = new SeriesAnalysis(
      changed(series, seriesEdits.leaveOut(trialId(4), 'It was pushed.')),
      odd,
    )
    expect(without.fit(PLANK.line)!.fit!.points).toBe(7)
    expect(without.points(series.graphs[PLANK.graph]).filter((point) => point.isLeftOut)).toHaveLength(1)
  })

  it('is used in calculations, in which slope and intercept know what they share', () => {
    const calculated = (expression: string) =>
      new SeriesAnalysis(
        changed(
          plankSeries(ANGLES),
          seriesEdits.setCalculation(id(60), {
            symbol: 'made',
            name: '',
            expression,
            unit: '',
            against: null,
          }),
        ),
        documents,
      ).calculations()[0]
    const ofG = calculated('k_1/g').result!
    const [, slope] = analysis.fit(PLANK.line)!.fit!.parameters
    expect(ofG.value).toBeCloseTo(slope.value / 9.81, 9)
    expect(ofG.error).toBeCloseTo(slope.error / 9.81, 5)
    expect(ofG.parts[0].source).toBe('scatter')
    // At the mean angle the line is known as well as the mean of its points, much better than its intercept.
    const { x } = analysis
      .points(analysis.series.graphs[PLANK.graph])
      .reduce((sum, point) => ({ x: sum.x + point.x.value / ANGLES.length }), { x: 0 })
    const middle = calculated(`c0_1 + k_1*${x}`).result!
    const [intercept] = analysis.fit(PLANK.line)!.fit!.parameters
    expect(middle.value).toBeCloseTo(analysis.table.mean(PLANK.acceleration)!.mean.value, 2)
    const scatterOf = (of: Estimate) => of.parts.find(({ source }) => source === 'scatter')!.error
    expect(scatterOf(middle)).toBeLessThan(0.5 * scatterOf(intercept))
    expect(calculated('mean_a').result!.error).toBeCloseTo(
      analysis.table.mean(PLANK.acceleration)!.mean.error,
      9,
    )
  })
})
