import katex from 'katex'
import { describe, expect, it } from 'vitest'
import { plainToTex } from './plainTex.ts'

describe('an equation as people type it', () => {
  it.each([
    ['mu', '\\mu'],
    ['F = mu m g', 'F = \\mu m g'],
    ['Delta x', '\\Delta x'],
    ['v^2', 'v^2'],
    ['x^10', 'x^{10}'],
    ['10^-3', '10^{-3}'],
    ['v_end', 'v_{\\mathrm{end}}'],
    ['a/b', '\\frac{a}{b}'],
    ['1/2 m v^2', '\\frac{1}{2} m v^2'],
    ['Delta v/Delta t', '\\frac{\\Delta v}{\\Delta t}'],
    ['(a + b)/(c d)', '\\frac{a + b}{c d}'],
    ['v = sqrt(2 g h)', 'v = \\sqrt{2 g h}'],
    ['T = 2 pi sqrt(L/g)', 'T = 2 \\pi \\sqrt{\\frac{L}{g}}'],
    ['a*b +- c', 'a\\cdot b \\pm c'],
    ['x_0^2/2', '\\frac{x_0^2}{2}'],
  ])('%s becomes %s', (typed, tex) => {
    expect(plainToTex(typed)).toBe(tex)
    expect(katex.renderToString(tex, { throwOnError: true })).toContain('<math')
  })

  it.each(['\\frac{a}{b}', '\\mu\\,m', '\\sqrt{2 g h}', '\\text{mu of it}', 'v_{\\mathrm{end}}', 'a_{0}'])(
    'leaves TeX such as %s as it is',
    (tex) => {
      expect(plainToTex(tex)).toBe(tex)
    },
  )

  it.each(['/', 'a/', '(((', 'sqrt(', '^^^', '\\', '{{', 'x'.repeat(500)])('ends on %s', (typed) => {
    expect(typeof plainToTex(typed)).toBe('string')
  })
})
