import { describe, expect, it } from 'vitest'
import {
  type ComparedValue,
  edit,
  edits,
  type Investigation,
  type ValueFormat,
  type ValueSource,
} from '../investigation/index.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import { liveValue, valueText } from './index.ts'

const id = (n: number) => `00000000-0000-4000-8000-0000000000${n}`
const [STRETCH, FIT, CALCULATION, CONSTANT, PROBE, REFERENCE] = [10, 11, 12, 13, 14]
  .map(id)
  .concat('00000000-0000-4000-8000-000000000002')

/** Returns the throw with a fit of its height, compared with 9.81 m/s². */
function fitted(): Investigation {
  return edit(thrown({}), (draft) => {
    edits.addStretch(STRETCH, THROWN.position, 0, 49)(draft)
    edits.addFit(FIT, STRETCH, 'uniform-acceleration')(draft)
    const against = { kind: 'value', value: 9.81, error: 0, label: 'g' } as const
    edits.changeFit(FIT, { expected: { reading: 'acceleration', against } })(draft)
    edits.setConstant(CONSTANT, { name: 'L', value: 2.1, error: 0.01, unit: 'm' })(draft)
    edits.setCalculation(CALCULATION, {
      symbol: 'k',
      name: '',
      expression: 'a_1/g',
      unit: '',
      against: null,
    })(draft)
  }).document
}
const numberOf = (document: Investigation, source: ValueSource) => {
  const live = liveValue(document, source)
  return live?.kind === 'quantity' ? live.value : Number.NaN
}
const acceleration: ValueSource = { of: 'reading', fit: FIT, reading: 'acceleration' }

describe('a live value', () => {
  const document = fitted()

  it('of a fit is its reading, its parameter, its statistics and its comparison', () => {
    expect(liveValue(document, acceleration)).toMatchObject({ kind: 'quantity', unit: 'm/s²' })
    expect(numberOf(document, acceleration)).toBeCloseTo(-9.81, 6)
    expect(numberOf(document, { of: 'reading', fit: FIT, reading: '' })).toBeCloseTo(-9.81, 6)
    expect(numberOf(document, { of: 'parameter', fit: FIT, parameter: 'a' })).toBeCloseTo(-9.81, 6)
    expect(numberOf(document, { of: 'statistic', fit: FIT, statistic: 'r-squared' })).toBeCloseTo(1, 9)
    expect(liveValue(document, { of: 'statistic', fit: FIT, statistic: 'points' })).toEqual({
      kind: 'count',
      value: 50,
    })
    expect(numberOf(document, { of: 'fit-comparison', fit: FIT, value: 'percent' })).toBeCloseTo(0, 4)
    expect(numberOf(document, { of: 'fit-comparison', fit: FIT, value: 'expected' })).toBe(9.81)
  })

  it('of a comparison with another reading knows that both depend on the same marks', () => {
    const other = id(15)
    const paired = edit(document, (draft) => {
      edits.addFit(other, STRETCH, 'uniform-acceleration')(draft)
      const against = { kind: 'reading', fit: other, reading: 'acceleration', factor: 2 } as const
      edits.changeFit(FIT, { expected: { reading: 'acceleration', against } })(draft)
    }).document
    const compared = (value: ComparedValue) => numberOf(paired, { of: 'fit-comparison', fit: FIT, value })
    const reading = liveValue(paired, acceleration)
    if (reading?.kind !== 'quantity') throw new Error('There is no reading.')
    expect(compared('expected')).toBeCloseTo(-19.62, 5)
    // a − 2a = −a, with the error of a: not √5 of it, as for two independent readings.
    expect(compared('standard-errors')).toBeCloseTo(Math.abs(reading.value) / reading.error, 3)
    expect(compared('percent')).toBeCloseTo(100 / 1.5, 5)
  })

  it('of the set-up is what was stated, in the unit in which lengths are shown', () => {
    expect(liveValue(document, { of: 'reference', reference: REFERENCE })).toEqual({
      kind: 'quantity',
      value: 1.4,
      error: 0,
      unit: 'm',
    })
    const inCentimetres = edit(document, edits.setLengthUnit('cm')).document
    expect(numberOf(inCentimetres, { of: 'reference', reference: REFERENCE })).toBeCloseTo(140, 9)
    expect(numberOf(inCentimetres, acceleration)).toBeCloseTo(-981, 4)
    // 315 px for 1.40 m.
    expect(numberOf(document, { of: 'scale' })).toBeCloseTo(225, 9)
    expect(numberOf(document, { of: 'frame-rate' })).toBeCloseTo(60, 9)
    expect(liveValue(document, { of: 'constant', constant: CONSTANT })).toEqual({
      kind: 'quantity',
      value: 2.1,
      error: 0.01,
      unit: 'm',
    })
    expect(liveValue(document, { of: 'marks', body: THROWN.body })).toEqual({ kind: 'count', value: 50 })
    expect(liveValue(document, { of: 'title' })).toEqual({ kind: 'text', text: 'A made-up throw' })
    const points = [0, 225].map((x) => ({ x, y: 0, frame: 0 }))
    const probe = edit(document, edits.addProbe(PROBE, 'distance', points)).document
    expect(numberOf(probe, { of: 'probe', probe: PROBE })).toBeCloseTo(1, 9)
  })

  it('follows its source: a reference twice as long makes the acceleration twice as large', () => {
    const corrected = edit(document, edits.changeReference(REFERENCE, { length: 2.8 })).document
    expect(numberOf(corrected, acceleration)).toBeCloseTo(-19.62, 5)
    expect(numberOf(corrected, { of: 'calculation', calculation: CALCULATION })).toBeCloseTo(-2, 6)
    expect(numberOf(corrected, { of: 'fit-comparison', fit: FIT, value: 'percent' })).toBeCloseTo(100, 4)
  })

  it.each<[string, ValueSource]>([
    ['fit', { of: 'reading', fit: id(99), reading: 'acceleration' }],
    ['reading', { of: 'reading', fit: FIT, reading: 'amplitude' }],
    ['parameter', { of: 'parameter', fit: FIT, parameter: 'ω' }],
    ['calculation', { of: 'calculation', calculation: id(99) }],
    ['reference', { of: 'reference', reference: id(99) }],
    ['constant', { of: 'constant', constant: id(99) }],
    ['probe', { of: 'probe', probe: id(99) }],
    ['mass', { of: 'mass', body: THROWN.body }],
    ['body', { of: 'marks', body: id(99) }],
  ])('of a %s that is not there is none', (_, source) => {
    expect(liveValue(document, source)).toBeNull()
  })
})

describe('the text of a live value', () => {
  const live = { kind: 'quantity', value: -9.8231, error: 0.0237, unit: 'm/s²' } as const
  const written = (format: Partial<ValueFormat>) =>
    valueText(live, { part: 'measurement', digits: null, withUnit: true, ...format })

  it('is the part of it that was chosen', () => {
    expect(written({})).toBe('−9.823 ± 0.024\u00a0m/s²')
    expect(written({ withUnit: false })).toBe('−9.823 ± 0.024')
    expect(written({ part: 'value' })).toBe('−9.823\u00a0m/s²')
    expect(written({ part: 'value', digits: 2 })).toBe('−9.8\u00a0m/s²')
    expect(written({ part: 'error' })).toBe('0.024\u00a0m/s²')
    expect(written({ part: 'unit' })).toBe('m/s²')
    expect(written({ part: 'percent-error' })).toBe('0.24\u00a0%')
    expect(written({ digits: 3 })).toBe('−9.82 ± 0.024\u00a0m/s²')
  })

  it('of a count or a name is itself, whatever was chosen', () => {
    const format = { part: 'error', digits: 2, withUnit: true } as const
    expect(valueText({ kind: 'count', value: 50 }, format)).toBe('50')
    expect(valueText({ kind: 'text', text: 'net float' }, format)).toBe('net float')
  })
})
