import { describe, expect, it } from 'vitest'
import { degrees, fixed, measurement, parseLength, significant } from './index.ts'

describe('typed lengths', () => {
  it.each([
    ['1.40 m', 1.4, 0],
    ['1.4', 1.4, 0],
    ['140cm', 1.4, 0],
    ['2,5 cm', 0.025, 0],
    ['.85 m', 0.85, 0],
    ['12 in', 0.3048, 0],
    ['1.400 ± 0.005 m', 1.4, 0.005],
    ['140 +- 0.5 cm', 1.4, 0.005],
  ])('%s is understood', (text, metres, error) => {
    const parsed = parseLength(text)!
    expect(parsed.metres).toBeCloseTo(metres, 12)
    expect(parsed.error).toBeCloseTo(error, 12)
  })

  it.each(['', 'abc', '0', '-2 m', '1e400', '1.4.0 m', '1 furlong', '± 2 m', '1.4 m <b>'])(
    '%s is refused',
    (text) => {
      expect(parseLength(text)).toBeNull()
    },
  )
})

describe('numbers', () => {
  it('are rounded to two digits of their error', () => {
    expect(measurement(-9.78312, 0.05412, 'm/s²')).toBe('−9.783 ± 0.054\u2009m/s²')
    expect(measurement(3.34149, 0.00996, 'm/s')).toBe('3.341 ± 0.010\u2009m/s')
    expect(measurement(1234.5, 123, 'px')).toBe('1230 ± 120\u2009px')
    expect(measurement(0.00001234, 0.00000021, 'm')).toBe('(1.234 ± 0.021)\u2009×\u200910⁻⁵\u2009m')
  })

  it('stand alone without a known error', () => {
    expect(measurement(9.8123, Number.NaN, 'm/s²')).toBe('9.812\u2009m/s²')
    expect(measurement(Number.NaN, 1, 'm')).toBe('–')
  })

  it('have a true minus and no minus zero', () => {
    expect(fixed(-0.0004, 2)).toBe('0.00')
    expect(significant(-0.012345, 3)).toBe('−0.0123')
    expect(significant(1234567, 3)).toBe('1.23\u2009×\u200910⁶')
    expect(degrees(Math.PI / 12)).toBe('15.0°')
  })
})
