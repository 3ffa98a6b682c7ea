import { describe, expect, it } from 'vitest'
import { gridField, lengthText, probeText, sizeText, writtenLength } from './lengths.ts'

describe('lengths on screen', () => {
  it('stand in the chosen unit', () => {
    expect(lengthText(1.4, 'm')).toBe('1.400\u00a0m')
    expect(lengthText(1.4, 'cm')).toBe('140.0\u00a0cm')
    expect(lengthText(1.4478, 'ft')).toBe('4.750\u00a0ft')
    expect(sizeText(2.4, 1.2, 'm')).toBe('2.4 × 1.2\u00a0m')
    expect(sizeText(2.4, 1.2, 'cm')).toBe('240 × 120\u00a0cm')
  })

  it('are written the way they could have been typed', () => {
    expect(writtenLength(1.4, 0.005, 'm')).toBe('1.4 ± 0.005 m')
    expect(writtenLength(0.3048, 0, 'in')).toBe('12 in')
  })

  it('of probes have their error, angles stand in degrees', () => {
    expect(probeText({ value: 1.4, error: 0.01, unit: 'm' }, 'cm')).toBe('140.0 ± 1.0\u00a0cm')
    expect(probeText({ value: Math.PI / 6, error: Math.PI / 180, unit: 'rad' }, 'm')).toBe(
      '30.0 ± 1.0\u00a0°',
    )
    expect(probeText({ value: 315.2, error: 0.71, unit: 'px' }, 'm')).toBe('315.20 ± 0.71\u00a0px')
  })
})

describe('the fields of a plane’s grid', () => {
  it.each([
    [3, 1.5, 'm', 0.5],
    [0.6, 0.4, 'cm', 0.1],
    [8, 12, 'm', 2],
    [3.048, 1, 'ft', 0.3048],
  ] as const)('on %s m × %s m, shown in %s, are round: %s m', (width, height, unit, field) => {
    expect(gridField(width, height, unit)).toBeCloseTo(field, 12)
  })
})
