import { analyse } from '@apokinema/core/analysis'
import { fitColumn } from '@apokinema/core/fitting'
import { THROWN, thrown } from '@apokinema/core/testing/thrown'
import { describe, expect, it } from 'vitest'
import { fitText } from './fitText.ts'

describe('a fit as text', () => {
  const fit = fitColumn(
    analyse(thrown({})).table(THROWN.body),
    'y',
    { from: 0, to: 40 },
    { model: 'uniform-acceleration' },
  )

  it('says what was fitted to what, every number with its error and unit, and how well it fits', () => {
    const lines = fitText([fit], 'Net float, stretch 1').split('\n')
    expect(lines[0]).toBe('Net float, stretch 1')
    expect(lines[1]).toMatch(/^y: Uniform acceleration, 41 points from 0\ss to 0\.6667\ss$/)
    expect(lines.some((line) => /^ {2}a = −9\.8\d* ± .*m\/s²$/.test(line))).toBe(true)
    expect(lines.some((line) => /RMSE .* R² 1\.00000, 38 degrees of freedom/.test(line))).toBe(true)
  })
})
