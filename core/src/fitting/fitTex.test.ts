import { describe, expect, it } from 'vitest'
import { analyse } from '../analysis/index.ts'
import { edit, edits, newInvestigation } from '../investigation/index.ts'
import { ExpressionError, QUANTITIES } from '../motion/index.ts'
import { THROWN, thrown } from '../testing/thrown.ts'
import {
  availableModels,
  availableRelations,
  expectedByExpression,
  fitColumn,
  fitTex,
  gravityAt,
} from './index.ts'
import { less, numberTex, sum, symbolTex, term } from './models/formula.ts'

describe('formulas in TeX', () => {
  it('name Greek letters, set words upright, and put what stands below the line below it', () => {
    expect(symbolTex('ω', '')).toBe('\\omega')
    expect(symbolTex('v', '∞')).toBe('v_{\\infty}')
    expect(symbolTex('E', 'kin')).toBe('E_{\\mathrm{kin}}')
    expect(symbolTex('x', '0')).toBe('x_{0}')
  })

  it('give each term its sign, whether it is a symbol or a number', () => {
    expect(sum('a', term('b', 't'))).toBe('a + b\\,t')
    expect(sum('1.2', term('-3', 't^{2}', '\\tfrac{1}{2}'))).toBe('1.2 - \\tfrac{1}{2}\\cdot 3\\,t^{2}')
    expect(sum('-1', '-2')).toBe('-1 - 2')
    expect(less('t', '-0.5')).toBe('t + 0.5')
    expect(less('t', 't_{0}')).toBe('t - t_{0}')
  })

  it('write powers of ten and minus signs as TeX does', () => {
    expect(numberTex('−1.2\u00a0×\u00a010⁻⁵')).toBe('-1.2\\times 10^{-5}')
  })
})

describe('a fit in TeX', () => {
  const fit = fitColumn(
    analyse(thrown({})).table(THROWN.body),
    'y',
    { from: 0, to: 40 },
    { model: 'uniform-acceleration' },
  )

  it('has its law and its parameters', () => {
    const tex = fitTex([fit])
    expect(tex).toContain('y &= y_{0} + v_{0}\\,t + \\tfrac{1}{2}a\\,t^{2}')
    expect(tex).toMatch(/a &= .*\\mathrm\{m\/s\^\{2\}\}/)
    expect(tex).not.toContain('±')
  })
})

describe('what is expected by an expression', () => {
  const investigation = edit(newInvestigation('A swing'), (draft) => {
    edits.setConstant('00000000-0000-4000-8000-0000000000c1', {
      name: 'L',
      value: 2.1,
      error: 0.01,
      unit: 'm',
    })(draft)
    edits.setFreeFall({ value: 9.81, error: 0.02 })(draft)
  }).document

  it('carries the errors of its numbers, in the unit that is asked for', () => {
    const { value, error } = expectedByExpression(
      investigation,
      analyse(investigation).numbers(),
      'sqrt(g/L)',
      'rad/s',
    )
    expect(value).toBeCloseTo(Math.sqrt(9.81 / 2.1), 12)
    expect(error).toBeCloseTo(value * Math.hypot(0.02 / 9.81 / 2, 0.01 / 2.1 / 2), 9)
    expect(
      expectedByExpression(investigation, analyse(investigation).numbers(), '2*L', 'cm').value,
    ).toBeCloseTo(420, 9)
  })

  it.each([
    ['sqrt(g/L)', 'm', /wrong-unit/],
    ['g*nobody', 'm/s²', /unknown-name.*nobody/],
    ['L/(L-L)', '', /division-by-zero/],
    ['sqrt(', 'm', /unreadable/],
  ])('says what is wrong with %s in %s', (text, unit, words) => {
    expect(() => expectedByExpression(investigation, analyse(investigation).numbers(), text, unit)).toThrow(
      words,
    )
    expect(() => expectedByExpression(investigation, analyse(investigation).numbers(), text, unit)).toThrow(
      ExpressionError,
    )
  })

  it('is g at a latitude, as tables have it', () => {
    // Equator, 45° and pole by the formula of 1980.
    expect(gravityAt(0)).toBeCloseTo(9.78033, 5)
    expect(gravityAt(45)).toBeCloseTo(9.80619, 4)
    expect(gravityAt(90)).toBeCloseTo(9.83219, 4)
    expect(gravityAt(-45)).toBe(gravityAt(45))
  })
})

describe('models that are offered', () => {
  const idsOf = (groups: ReturnType<typeof availableModels>) =>
    groups.flatMap(({ models }) => models.map(({ model }) => model.id))

  it('are those that say something of the quantity, by kind of motion', () => {
    const place = availableModels(QUANTITIES.y)
    expect(place.map(({ group }) => group)).toEqual([
      'rest',
      'uniform',
      'accelerated',
      'changing',
      'settling',
      'swinging',
      'before-and-after',
      'relation',
      'own',
    ])
    expect(idsOf(place)).toContain('bounces')
    expect(idsOf(availableModels(QUANTITIES.vy))).not.toContain('bounces')
    expect(idsOf(availableModels(QUANTITIES.ay))).toEqual(
      expect.arrayContaining(['uniform-acceleration', 'changing-acceleration', 'swing', 'free-form']),
    )
    expect(idsOf(availableModels(QUANTITIES.ay))).not.toContain('uniform')
  })

  it('have a formula with the quantity’s own letter', () => {
    const [, uniform] = availableModels(QUANTITIES.vx)
    expect(uniform.models[0].formula).toMatch(/^v_\{x\} = /)
  })

  it('of two quantities are relations, and loops where one is the other’s rate', () => {
    expect(idsOf(availableRelations(QUANTITIES.y, QUANTITIES.x))).not.toContain('swing')
    expect(idsOf(availableRelations(QUANTITIES.y, QUANTITIES.x))).not.toContain('pendulum-loop')
    expect(idsOf(availableRelations(QUANTITIES.omega, QUANTITIES.theta))).toEqual(
      expect.arrayContaining(['ellipse', 'pendulum-loop', 'power']),
    )
  })
})
