import { readFileSync } from 'node:fs'
import { resultsSheet, seriesCsv, seriesJson, seriesSheet } from '@apokinema/core/formats'
import { edit, type Investigation } from '@apokinema/core/investigation'
import { type Series, SeriesAnalysis, seriesEdits } from '@apokinema/core/series'
import { PLANK, PLANK_TRUTH, plankSeries, plankTrial, trialId } from '@apokinema/core/testing/plankSeries'
import { Ajv2020 } from 'ajv/dist/2020.js'
import { describe, expect, it } from 'vitest'

const ANGLES = [5, 8, 11, 14]
const TITLES = new Map(ANGLES.map((_, i) => [trialId(i), i === 1 ? '=2+3' : `Plank ${i + 1}`]))
const documents = new Map<string, Investigation>(
  ANGLES.map((angle, i) => [trialId(i), plankTrial(angle, 60 + i)]),
)

const changed = (...mutators: Parameters<typeof edit<Series>>[1][]) =>
  new SeriesAnalysis(
    mutators.reduce((before, mutator) => edit(before, mutator).document, plankSeries(ANGLES)),
    documents,
  )

const analysis = changed(
  seriesEdits.setTyped(trialId(0), PLANK.surface, { kind: 'word', word: 'boards' }),
  seriesEdits.leaveOut(trialId(3), 'It was pushed, "hard".'),
  seriesEdits.setCalculation('00000000-0000-4000-8000-0000000000aa', {
    symbol: 'k',
    name: 'friction',
    expression: '-c0_1/k_1',
    unit: '',
    against: null,
  }),
)
const alike = changed(seriesEdits.removeColumn(PLANK.angle))

const schema = JSON.parse(
  readFileSync(new URL('../../docs/series-table.schema.json', import.meta.url), 'utf8'),
) as object
const fits = new Ajv2020({ formats: { uuid: /^[0-9a-f-]{36}$/ } }).compile(schema)

describe('the table of a series in a file', () => {
  it('has a row a trial with all digits as CSV, which no spreadsheet takes for formulas', () => {
    const csv = seriesCsv(analysis, TITLES)
    const lines = csv.split('\r\n')
    expect(lines).toHaveLength(ANGLES.length + 2)
    expect(lines[0]).toContain('plank angle (°),± plank angle (°)')
    expect(lines[2]).toMatch(/^'=2\+3,8,0\.1,/)
    expect(lines[1]).toContain('boards')
    expect(lines[4]).toContain('"It was pushed, ""hard""."')
    const [sheetRow] = seriesSheet(analysis, TITLES).rows.slice(1)
    const cell = analysis.table.cell(trialId(0), PLANK.acceleration)
    if (cell.kind !== 'number') throw new Error('There is no acceleration.')
    expect(sheetRow).toContain(cell.value.value)
    expect(lines[1]).toContain(String(cell.value.value))
  })

  it('has means only where no condition differs', () => {
    expect(resultsSheet(analysis).rows.some(([name]) => String(name).startsWith('mean of'))).toBe(false)
    const [mean] = resultsSheet(alike).rows.filter(([name]) => name === 'mean of acceleration')
    const values = ANGLES.map((_, i) => {
      const cell = alike.table.cell(trialId(i), PLANK.acceleration)
      return cell.kind === 'number' ? cell.value.value : Number.NaN
    })
    expect(mean[1]).toBeCloseTo(values.reduce((sum, value) => sum + value, 0) / 4, 12)
    expect(mean[4]).toBe(4)
  })

  it('has the law and what was calculated from it, and it is true', () => {
    const rows = resultsSheet(analysis).rows
    const slope = rows.find(([name]) => name === 'Slope of acceleration against sine of the angle')!
    expect(Math.abs(Number(slope[1]) - PLANK_TRUTH.g)).toBeLessThan(4 * Number(slope[2]))
    expect(slope[4]).toBe(3)
    const friction = rows.find(([name]) => name === 'friction')!
    expect(Math.abs(Number(friction[1]) - PLANK_TRUTH.friction / PLANK_TRUTH.g)).toBeLessThan(
      4 * Number(friction[2]),
    )
  })

  it.each([
    ['with a law and a trial that is left out', analysis],
    ['with means', alike],
    ['with nothing in it', new SeriesAnalysis(plankSeries([]), new Map())],
    ['whose trials can’t be read', new SeriesAnalysis(plankSeries(ANGLES), new Map())],
  ])('fits its schema as JSON %s', (_, some) => {
    const document = JSON.parse(seriesJson(some, TITLES)) as { columns: object[] }
    expect(fits(document), JSON.stringify(fits.errors)).toBe(true)
    expect(fits({ ...document, laws: [{ model: 'uniform' }] })).toBe(false)
  })
})
