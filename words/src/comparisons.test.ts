import { analyse, expectedOf } from '@apokinema/core/analysis'
import { estimate, fitColumn, isMissed, namedReadings } from '@apokinema/core/fitting'
import { edit, edits, newInvestigation } from '@apokinema/core/investigation'
import { THROWN, thrown } from '@apokinema/core/testing/thrown'
import { unitFactor } from '@apokinema/core/units'
import { describe, expect, it } from 'vitest'
import { comparisonText, expectedText, pairText } from './comparisons.ts'

const reading = estimate(-9.783, 'm/s²', [{ source: 'marks', error: 0.054, freedom: 20 }])
const plain = newInvestigation('A throw')
const value = (number: number, error = 0) => ({ kind: 'value' as const, value: number, error, label: '' })

describe('a comparison in words', () => {
  it('tells percent, standard errors and whether they agree', () => {
    expect(comparisonText(plain, reading, value(-9.81))).toBe(
      '0.28\u00a0% off, 0.5 standard errors – agrees within its error.',
    )
    expect(comparisonText(plain, reading, value(-9.65))).toContain('just about agrees')
    expect(comparisonText(plain, reading, value(-9))).toContain('does not agree within its error')
  })

  it('counts the error of what is expected, and says where sizes were compared', () => {
    expect(comparisonText(plain, reading, value(-9.6, 0.1))).toContain('1.6 standard errors')
    expect(comparisonText(plain, reading, value(9.81))).toContain(
      'Sizes compared: the reading points along the negative axis.',
    )
  })

  it('of something with nothing has no percent', () => {
    const near = estimate(0.01, 'm/s²', [{ source: 'marks', error: 0.03, freedom: 20 }])
    expect(comparisonText(plain, near, value(0))).toBe('0.3 standard errors – agrees within its error.')
  })

  it('says what comes out of an expression, and what is wrong with one', () => {
    const constant = { name: 'slope', value: 0.19, error: 0.002, unit: 'rad' }
    const { document } = edit(plain, edits.setConstant('00000000-0000-4000-8000-0000000000c1', constant))
    const along = estimate(1.24, 'm/s²', [{ source: 'marks', error: 0.01, freedom: 20 }])
    const expression = (text: string) => ({ kind: 'expression' as const, expression: text })
    expect(comparisonText(document, along, expression('2/3*g*sin(slope)'))).toMatch(
      /agrees within its error\. It gives 1\.235 ± 0\.013\u00a0m\/s²\.$/,
    )
    expect(comparisonText(document, along, expression('slope'))).toMatch(/comes out in/)
  })

  it('names the percent that a class allows, where it has said so', () => {
    const { document } = edit(plain, edits.setTolerance(5))
    expect(comparisonText(document, reading, value(-9.81))).toContain(
      'Within the 5\u00a0% that this class allows.',
    )
    expect(comparisonText(document, reading, value(-8))).toContain(
      'Beyond the 5\u00a0% that this class allows.',
    )
  })
})

describe('what is expected', () => {
  it('stands in the field as it can be typed, in the reading’s unit', () => {
    expect(expectedText(value(9.81), 0.01)).toBe('981')
    expect(expectedText(value(9.81, 0.02), 1)).toBe('9.81 ± 0.02')
    expect(expectedText({ kind: 'expression', expression: 'g' }, 1)).toBe('g')
    expect(expectedText(null, 1)).toBe('')
  })

  it('is missed beyond two combined errors', () => {
    expect(isMissed(reading, { value: -9.7, error: 0 })).toBe(false)
    expect(isMissed(reading, { value: -9.6, error: 0 })).toBe(true)
    expect(isMissed(reading, { value: -9.6, error: 0.1 })).toBe(false)
  })

  it('is nothing where it can’t be told', () => {
    expect(expectedOf(plain, { kind: 'expression', expression: 'nobody' }, 'm/s²')).toBeNull()
    expect(expectedOf(plain, null, 'm/s²')).toBeNull()
    expect(expectedOf(plain, value(9.81), 'cm/s²')).toEqual({ value: 981, error: 0 })
  })

  it('is in units that are known by how many of the SI’s they are', () => {
    expect([unitFactor('cm/s²'), unitFactor('Hz'), unitFactor('°'), unitFactor('')]).toEqual([
      0.01,
      1,
      Math.PI / 180,
      1,
    ])
  })
})

describe('two readings', () => {
  it('that rest on the same scale say so, and their difference does not count it twice', () => {
    const document = edit(thrown({}), (draft) => {
      for (const reference of Object.values(draft.references)) reference.lengthError = 0.05
    }).document
    const table = analyse(document).table(THROWN.body)
    const model = 'uniform-acceleration' as const
    const [one] = namedReadings([fitColumn(table, 'y', { from: 0, to: 24 }, { model })])
    const [other] = namedReadings([fitColumn(table, 'y', { from: 25, to: 49 }, { model })])
    const text = pairText(document, one, other, 1)
    expect(text).toContain('Both depend on the same marks or scale')
  })
})
