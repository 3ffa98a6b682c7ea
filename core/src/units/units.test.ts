import { describe, expect, it } from 'vitest'
import {
  angleMeasurement,
  degrees,
  fixed,
  measurement,
  metresWithin,
  parseLength,
  parseLengthRange,
  parseMass,
  rounded,
  shownIn,
  shownMass,
  significant,
} from './index.ts'

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
    ['1', 1, 0],
    ['0.85 m', 0.85, 0],
    ['85 cm', 0.85, 0],
    ['4 ft 9 in', 1.4478, 0],
    ['4\'9"', 1.4478, 0],
    ['4′ 9½″'.replace('½', '.5'), 1.4605, 0],
    ['4 ft', 1.2192, 0],
    ['1.32m', 1.32, 0],
    ['2 km', 2000, 0],
    ['1.5 yd', 1.3716, 0],
    ['1.4 m ± 0.5 %', 1.4, 0.007],
    ['1.40 m ± 1 cm', 1.4, 0.01],
    ['4 ft 9 in ± 0.25 in', 1.4478, 0.00635],
    ['1e-3 m', 0.001, 0],
  ])('%s is understood', (text, metres, error) => {
    const parsed = parseLength(text)!
    expect(parsed.metres).toBeCloseTo(metres, 12)
    expect(parsed.error).toBeCloseTo(error, 12)
  })

  it.each([
    '',
    'abc',
    '0',
    '-2 m',
    '1e400',
    '1.4.0 m',
    '1 furlong',
    '± 2 m',
    '1.4 m <b>',
    '0 ft 0 in',
    '1 m 2 cm',
    '1 m ± 1e999',
  ])('%s is refused', (text) => {
    expect(parseLength(text)).toBeNull()
  })
})

it('a length without a unit is in the one that is assumed, and says which it was understood in', () => {
  expect(parseLength('85', 'cm')).toEqual({ metres: 0.85, error: 0, unit: 'cm' })
  expect(parseLength('2 in', 'cm')!.unit).toBe('in')
})

it.each([
  ['2.7 m', [2.7, 2.7]],
  ['2.6 to 2.8 m', [2.6, 2.8]],
  ['280–260 cm', [2.6, 2.8]],
  ['2.6 - 2.8', [2.6, 2.8]],
  ['8 ft to 9 ft', [2.4384, 2.7432]],
])('the range %s is understood', (text, [low, high]) => {
  const { metres } = parseLengthRange(text)!
  expect(metres[0]).toBeCloseTo(low, 9)
  expect(metres[1]).toBeCloseTo(high, 9)
})

it.each(['', 'near', '1 to 2 to 3', '0 to 2'])('the range "%s" is refused', (text) => {
  expect(parseLengthRange(text)).toBeNull()
})

describe('shown in another unit of length', () => {
  it('only what has a length in it changes', () => {
    expect(shownIn('m/s²', 'cm')).toEqual({ unit: 'cm/s²', factor: 100 })
    expect(shownIn('m', 'ft').factor).toBeCloseTo(1 / 0.3048, 12)
    expect(shownIn('px/s', 'cm')).toEqual({ unit: 'px/s', factor: 1 })
    expect(shownIn('s', 'cm')).toEqual({ unit: 's', factor: 1 })
    expect([metresWithin('cm/s²'), metresWithin('px/s'), metresWithin('s')]).toEqual([0.01, null, null])
  })
})

describe('numbers', () => {
  it('are rounded to two digits of their error', () => {
    expect(measurement(-9.78312, 0.05412, 'm/s²')).toBe('−9.783 ± 0.054\u00a0m/s²')
    expect(measurement(3.34149, 0.00996, 'm/s')).toBe('3.341 ± 0.010\u00a0m/s')
    expect(measurement(1234.5, 123, 'px')).toBe('1230 ± 120\u00a0px')
    expect(measurement(0.00001234, 0.00000021, 'm')).toBe('(1.234 ± 0.021)\u00a0×\u00a010⁻⁵\u00a0m')
  })

  it('stand alone with the digits that their error lets stand', () => {
    expect(rounded(-9.78312, 0.05412)).toBe('−9.783')
    expect(rounded(1234.5, 123)).toBe('1230')
    expect(rounded(3.34149, 0.00996)).toBe('3.341')
    expect(rounded(9.8123, Number.NaN)).toBe('9.812')
    expect(rounded(Number.NaN, 0.1)).toBe('–')
  })

  it('stand alone without a known error', () => {
    expect(measurement(9.8123, Number.NaN, 'm/s²')).toBe('9.812\u00a0m/s²')
    expect(measurement(Number.NaN, 1, 'm')).toBe('–')
  })

  it('have a true minus and no minus zero', () => {
    expect(fixed(-0.0004, 2)).toBe('0.00')
    expect(significant(-0.012345, 3)).toBe('−0.0123')
    expect(significant(1234567, 3)).toBe('1.23\u00a0×\u00a010⁶')
    expect(degrees(Math.PI / 12)).toBe('15.0°')
    expect(angleMeasurement(Math.PI / 12, 0)).toBe('15.0°')
    expect(angleMeasurement(Math.PI / 12, Math.PI / 1440)).toBe('15.00 ± 0.13°')
    expect(angleMeasurement(-Math.PI / 12, Math.PI / 15)).toBe('−15 ± 12°')
  })
})

describe('masses', () => {
  it.each([
    ['0.25 kg', 0.25, 0],
    ['250 g', 0.25, 0],
    ['250 ± 2 g', 0.25, 0.002],
    ['2,4', 2.4, 0],
    ['1.2 +- 0.1 kg', 1.2, 0.1],
  ])('"%s" is read in kilograms', (text, value, error) => {
    const mass = parseMass(text)
    expect(mass?.value).toBeCloseTo(value, 12)
    expect(mass?.error).toBeCloseTo(error, 12)
  })

  it('nothing is no mass, and words, zero and less than nothing are none', () => {
    expect(parseMass('  ')).toBeNull()
    for (const text of ['heavy', '0 kg', '-1 kg', '1 pound', 'e5']) expect(parseMass(text)).toBeUndefined()
  })

  it('is shown as it would be said', () => {
    expect(shownMass({ value: 0.25, error: 0.002 })).toBe('250 ± 2 g')
    expect(shownMass({ value: 2.4, error: 0 })).toBe('2.4 kg')
    expect(shownMass({ value: 100, error: 0 })).toBe('100 kg')
  })
})
