import { describe, expect, it } from 'vitest'
import { agreementText, cellTroubleText, viewText } from './series.ts'

describe('words about a series', () => {
  it('say whether trials scatter as their errors promise', () => {
    const agreement = (birgeRatio: number, probability: number) =>
      agreementText({ birgeRatio, probability, chiSquare: 4 * birgeRatio ** 2, freedom: 4 })
    expect(agreement(1.1, 0.3)).toBe('The trials scatter as their own errors promise.')
    expect(agreement(3.04, 1e-6)).toContain(
      '3.0 times as much as their own errors promise. Something differs',
    )
    expect(agreement(340, 0)).toContain('Add it as a column.')
    expect(agreement(0.1, 0.999)).toContain('less than their own errors promise')
    expect(agreementText(null)).toBe('')
  })

  it('say what a camera did between two trials, and nothing of one that stood still', () => {
    expect(viewText(null)).toBe('')
    expect(viewText({ kind: 'same', of: 'a', farthest: 0.04, error: 0.03 })).toBe('')
    expect(viewText({ kind: 'moved', of: 'a', farthest: 3.24, error: 0.03 })).toBe(
      'Camera moved 3.2 px: taken along.',
    )
    expect(viewText({ kind: 'other', of: 'a', trouble: 'parts' })).toContain('set the scale and axes again')
  })

  it('say why a cell is empty', () => {
    expect(cellTroubleText({ code: 'missing', name: 'theta' })).toBe('theta has no value here.')
    expect(cellTroubleText({ code: 'other-unit', unit: 'kg' })).toBe('It is in kg, unlike this column.')
    expect(
      cellTroubleText({ code: 'expression', problem: { code: 'unknown-name', name: 'beta' } }),
    ).toContain('beta')
  })
})
