import { describe, expect, it } from 'vitest'
import { ExpressionError } from '../../motion/index.ts'
import { FitError } from '../../regression/index.ts'
import { fitFreeForm, readFreeForm } from './freeForm.ts'

const times = Float64Array.from({ length: 50 }, (_, i) => i / 25)

describe('a model that somebody has written', () => {
  it('names its parameters in order, without the variable, constants and functions', () => {
    expect(readFreeForm('c + a*exp(-t/tau)*sin(2*pi*t)', 't').parameters).toEqual(['c', 'a', 'tau'])
  })

  it('is fitted from starts by name', () => {
    const y = times.map((t) => 0.2 + 1.4 * Math.exp(-t / 0.6))
    const { names, parameters } = fitFreeForm('c + a*exp(-t/tau)', 't', times, y, { tau: 3 })
    const found = Object.fromEntries(names.map((name, k) => [name, parameters[k]]))
    expect(found.c).toBeCloseTo(0.2, 10)
    expect(found.a).toBeCloseTo(1.4, 10)
    expect(found.tau).toBeCloseTo(0.6, 10)
  })

  it.each([
    ['2*t + 1', FitError, /no parameter/],
    ['a*b*t', FitError, /apart/],
    ['a*constructor(t)', ExpressionError, /no function/],
    ['a*t +', ExpressionError, /can’t be read/],
    ['exp(exp(a*1e9*t))', FitError, /./],
    [Array.from({ length: 30 }, (_, k) => `p${k}*t`).join('+'), FitError, /most/],
  ])('that can’t be fitted says so: %s', (text, kind, words) => {
    const act = () =>
      fitFreeForm(
        text,
        't',
        times,
        times.map((t) => 3 * t),
        {},
      )
    expect(act).toThrow(kind)
    expect(act).toThrow(words)
  })

  it('with a name that every object has is a parameter like any other', () => {
    const { names, parameters } = fitFreeForm(
      'toString*t',
      't',
      times,
      times.map((t) => 3 * t),
      {},
    )
    expect(names).toEqual(['toString'])
    expect(parameters[0]).toBeCloseTo(3, 12)
  })
})
