import { describe, expect, it } from 'vitest'
import { ExpressionError } from '../../motion/index.ts'
import { FitError } from '../../regression/index.ts'
import { fitPoints } from '../solve.ts'
import { freeForm, readFreeForm } from './freeForm.ts'
import { PLAIN } from './model.ts'

const times = Float64Array.from({ length: 50 }, (_, i) => i / 25)

/** Fits an expression in t as the page does; gives what it finds by name. */
function fitted(expression: string, y: Float64Array, start: Record<string, number> = {}) {
  const law = freeForm.law({ ...PLAIN, expression, start })!
  const { parameters } = fitPoints(law, times, y)
  return Object.fromEntries(law.parameters.map(({ name }, k) => [name, parameters[k]]))
}

describe('a model that somebody has written', () => {
  it('names its parameters in order, without the variable, constants and functions', () => {
    expect(readFreeForm('c + a*exp(-t/tau)*sin(2*pi*t)', 't').parameters).toEqual(['c', 'a', 'tau'])
  })

  it('is fitted from starts by name', () => {
    const y = times.map((t) => 0.2 + 1.4 * Math.exp(-t / 0.6))
    const found = fitted('c + a*exp(-t/tau)', y, { tau: 3 })
    expect(found.c).toBeCloseTo(0.2, 10)
    expect(found.a).toBeCloseTo(1.4, 10)
    expect(found.tau).toBeCloseTo(0.6, 10)
  })

  it.each([
    ['c + a*exp(-t/tau)', ['a', 'c']],
    ['a*sin(w*t) + b*cos(w*t)', ['a', 'b']],
    ['a*b*t', ['a']],
    ['(b1/b2)*exp(-0.5*((t-b3)/b2)^2)', ['b1']],
    ['log(a*t)', []],
  ])('tells what enters linearly: %s', (expression, names) => {
    const { linear, parameters } = freeForm.law({ ...PLAIN, expression })!
    expect(linear.map((k) => parameters[k].name).sort()).toEqual(names)
  })

  it.each([
    ['2*t + 1', FitError, /nothing-to-fit/],
    ['a*b*t', FitError, /parameters-indistinguishable/],
    ['a*constructor(t)', ExpressionError, /unknown-function/],
    ['a*t +', ExpressionError, /unreadable/],
    ['exp(exp(a*1e9*t))', FitError, /./],
    [Array.from({ length: 30 }, (_, k) => `p${k}*t`).join('+'), FitError, /too-many-parameters/],
  ])('that can’t be fitted says so: %s', (text, kind, words) => {
    const act = () =>
      fitted(
        text,
        times.map((t) => 3 * t),
      )
    expect(act).toThrow(kind)
    expect(act).toThrow(words)
  })

  it('with a name that every object has is a parameter like any other', () => {
    const found = fitted(
      'toString*t',
      times.map((t) => 3 * t),
    )
    expect(Object.keys(found)).toEqual(['toString'])
    expect(found.toString).toBeCloseTo(3, 12)
  })
})
