import { MODELS, PLAIN } from '@apokinema/core/fitting'
import { expressionTex } from '@apokinema/core/motion'
import katex from 'katex'
import { describe, expect, it } from 'vitest'

/** Typesets it as the page does, but for a fault, which the page would show in red. */
const typeset = (tex: string) => katex.renderToString(tex, { throwOnError: true, strict: false })

describe('formulas can be typeset', () => {
  it.each([
    'm*v',
    'm_1*v_end1 + m_2*v',
    '-a_1/g',
    'sqrt(2*g*h)',
    '2*pi*sqrt(L/g)',
    '(a+b)*c^2',
    'g*sin(alpha)',
    'abs(x)/y',
    '(u-v)^2*w/(2*k)',
    'exp(-k*t)*x',
    'e*v',
    '3*v',
    'v*3',
    'm·v²',
    'ln(p*q)',
  ])('of the calculation %s, with symbols and with numbers', (expression) => {
    for (const of of [(name: string) => name[0], () => '\\mathrm{block}_{1}', () => '(-1.204)'])
      expect(() => typeset(expressionTex(expression, of))).not.toThrow()
  })

  it.each(Object.values(MODELS))('of $name, in both its forms', (model) => {
    for (const order of [0, 1, 2, null] as const)
      for (const form of ['physics', 'coefficients'] as const) {
        const law = model.law({ ...PLAIN, order, form, expression: 'a*t^2 + b' })
        const loop = model.loop?.({ isRateOf: true, isAngle: true })
        for (const one of [law, loop])
          for (const given of ['x_{0}', '-1.25', '3.2\\times 10^{-5}']) {
            const tex = one?.formula(
              one.parameters.map(() => given),
              't',
              'v',
            )
            if (tex) expect(() => typeset(tex)).not.toThrow()
          }
      }
  })
})
