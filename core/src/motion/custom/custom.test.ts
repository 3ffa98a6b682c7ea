import { describe, expect, it } from 'vitest'
import { analyse } from '../../analysis/index.ts'
import { type CustomQuantity, edit, type Investigation } from '../../investigation/index.ts'
import { THROWN, thrown } from '../../testing/thrown.ts'
import { parseUnit, unitOf } from '../../units/index.ts'
import { readExpression } from './expression.ts'
import { ExpressionError } from './expressionError.ts'
import { asName, definitionProblem, nameProblem } from './index.ts'

const OWN = 'd0000000-0000-4000-8000-000000000001'
const OTHER = 'd0000000-0000-4000-8000-000000000002'
const own = (expression: string, change: Partial<CustomQuantity> = {}): CustomQuantity => ({
  order: 0,
  name: 'Own',
  symbol: 'q',
  unit: '',
  expression,
  ...change,
})

/** Returns the made-up throw with a mass, two constants and some quantities of one's own. */
function made(quantities: Record<string, CustomQuantity>): Investigation {
  return edit(thrown({}), (draft) => {
    draft.bodies[THROWN.body].mass = { value: 0.2, error: 0.01 }
    draft.bodies[THROWN.body].markError = 0.3
    draft.constants = {
      'e0000000-0000-4000-8000-000000000001': { order: 0, name: 'L', value: 40, error: 2, unit: 'cm' },
    }
    draft.quantities = quantities
  }).document
}
const columnOf = (quantity: CustomQuantity) =>
  analyse(made({ [OWN]: quantity }))
    .table(THROWN.body)
    .column(OWN)

describe('an expression', () => {
  it.each([
    ['0.5*m*v^2', { m: 0.4, v: 3 }, 1.8],
    ['y/x', { y: 3, x: 4 }, 0.75],
    ['atan2(y, x)', { y: 1, x: -1 }, (3 * Math.PI) / 4],
    ['2 x + 3 (x - 1)', { x: 2 }, 7],
    ['-x^2', { x: 3 }, -9],
    ['sqrt(x)*cbrt(y)', { x: 9, y: 8 }, 6],
    ['exp(ln(x)) - log10(1000) + abs(-2)', { x: 5 }, 4],
    ['max(x, 2) + min(x, 2) + hypot(3, 4)', { x: 7 }, 14],
    ['x^y', { x: 2, y: 0.5 }, Math.SQRT2],
    ['2*pi/T', { T: 2 }, Math.PI],
    ['x² − 1', { x: 3 }, 8],
    ['θ_0 + 1', { θ_0: 2 }, 3],
  ] as [string, Record<string, number>, number][])(
    '%s has its value, and slopes as differences show them',
    (text, given, expected) => {
      const { names, evaluate: at } = readExpression(text)
      const values = names.map((name) => given[name])
      expect(values.every(Number.isFinite)).toBe(true)
      expect(at(values).value).toBeCloseTo(expected, 12)
      names.forEach((_, i) => {
        const moved = (by: number) => at(values.map((value, k) => (k === i ? value + by : value))).value
        expect(at(values).gradient[i]).toBeCloseTo((moved(1e-5) - moved(-1e-5)) / 2e-5, 6)
      })
    },
  )

  it.each([
    '',
    '2 +',
    'x = 3',
    'f(x) = x',
    'x.constructor',
    'x["constructor"]',
    'constructor("return 1")()',
    'toString()',
    'hasOwnProperty(x)',
    'import("fs")',
    'createUnit("a")',
    'evaluate("1")',
    '[1, 2, 3]',
    '{a: 1}',
    '"text"',
    'x; y',
    'x ? 1 : 2',
    'x > 2',
    'x!',
    '5 cm to m',
    'sin(x, y)',
    'atan2(x)',
    'true',
    '1:3',
    `${'('.repeat(900)}x${')'.repeat(900)}`.repeat(2),
    '1+'.repeat(5000),
  ])('%s is refused', (text) => {
    expect(() => readExpression(text)).toThrow(ExpressionError)
  })

  it('takes names of prototypes for what they are: names that mean nothing', () => {
    for (const name of ['constructor', '__proto__', 'prototype', 'toString'])
      expect(definitionProblem(made({}), analyse(made({})).numbers, OWN, own(`2*${name}`))).toEqual({
        code: 'unknown-name',
        name,
      })
  })

  it('survives the deepest nesting that is short enough', () => {
    const deep = `${'('.repeat(990)}x${')'.repeat(990)}`
    try {
      expect(readExpression(deep).evaluate([3]).value).toBe(3)
    } catch (error) {
      expect(error).toBeInstanceOf(ExpressionError)
    }
  })
})

describe('a quantity of one’s own', () => {
  it('is derived from others and the constants, with their errors', () => {
    const column = columnOf(own('0.5*m*v^2', { unit: 'J' }))
    const built = analyse(made({})).table(THROWN.body).column('Ek')
    expect(column.unit).toBe('J')
    expect(column.rows).toEqual(built.rows)
    for (const row of built.rows) {
      expect(column.values[row]).toBeCloseTo(built.values[row], 12)
      expect(column.errors[row]).toBeCloseTo(built.errors[row], 12)
    }
    // Where the mass is known to 5 %, an energy cannot be known better.
    expect(built.errors[20] / built.values[20]).toBeGreaterThan(0.05)
  })

  it('counts in the unit that is asked for, of constants too', () => {
    const column = columnOf(own('L*vx/x', { unit: 'cm/s' }))
    expect(column.values[20]).toBeCloseTo((40 * 2.6) / (2.6 * (20 / 60)), 8)
    expect(column.errors[20] / column.values[20]).toBeGreaterThan(0.05)
  })

  it('can stand on the time, and on another of one’s own', () => {
    const table = analyse(made({ [OTHER]: own('2*t', { symbol: 'u' }), [OWN]: own('u^2') })).table(
      THROWN.body,
    )
    expect(table.column(OWN).unit).toBe('s²')
    expect(table.column(OWN).values[30]).toBeCloseTo(1, 12)
  })

  it('is defined once, however many stand on it: each of sixty stands on the two before', () => {
    const id = (n: number) => `d0000000-0000-4000-8000-${String(100 + n).padStart(12, '0')}`
    const chain = Array.from({ length: 60 }, (_, n): [string, CustomQuantity] => [
      id(n),
      own(n < 2 ? 't' : `u${n - 1} + u${n - 2}`, { symbol: `u${n}`, order: n }),
    ])
    const fibonacci = [1, 1]
    for (let n = 2; n < 60; n++) fibonacci.push(fibonacci[n - 1] + fibonacci[n - 2])
    const table = analyse(made(Object.fromEntries(chain))).table(THROWN.body)
    const { rows, values } = table.column(id(59))
    const [last] = rows.slice(-1)
    expect(values[last] / table.times[last] / fibonacci[59]).toBeCloseTo(1, 12)
  })

  it('is empty where it divides by zero, and says so', () => {
    const column = columnOf(own('1/(t - t)'))
    expect(column.rows).toEqual([])
    expect(column.notes).toEqual([{ code: 'division-by-zero', rows: expect.any(Number) }])
  })

  it('says what is wrong with it', () => {
    const problem = (quantity: CustomQuantity, others: Record<string, CustomQuantity> = {}) =>
      definitionProblem(made(others), analyse(made(others)).numbers, OWN, quantity)
    expect(problem(own('x + vx'))).toEqual({ code: 'different-units' })
    expect(problem(own('m*v', { unit: 'J' }))).toMatchObject({ code: 'wrong-unit', found: 'kg·m/s' })
    expect(problem(own('x', { unit: 'furlong' }))).toMatchObject({ code: 'unknown-unit' })
    expect(problem(own('sin(x)'))).toEqual({ code: 'argument-angle', name: 'sin' })
    expect(problem(own('2^x'))).toEqual({ code: 'exponent-unit' })
    expect(problem(own('rho*x'))).toEqual({ code: 'unknown-name', name: 'rho' })
    expect(problem(own('q + 1'))).toEqual({ code: 'circular', name: 'q', isDirect: true })
    expect(problem(own('u + 1'), { [OTHER]: own('2*q', { symbol: 'u' }) })).toMatchObject({
      code: 'circular',
      isDirect: false,
    })
    expect(problem(own('omega*r', { unit: 'm/s' }))).toBeNull()
    expect(problem(own('sin(theta)'))).toBeNull()
    expect(columnOf(own('x + vx')).missing).toEqual({
      code: 'definition',
      problem: { code: 'different-units' },
    })
  })

  it('asks for a scale where its unit has a length in it and there is none', () => {
    const pixels = edit(made({ [OWN]: own('v', { unit: 'm/s' }) }), (draft) => {
      draft.references = {}
    }).document
    expect(analyse(pixels).table(THROWN.body).column(OWN).missing).toEqual({ code: 'scale' })
  })
})

describe('names', () => {
  it('can be letters, digits and low lines, and not what is taken', () => {
    for (const name of ['L', 'mass_2', 'θ0', 'Länge']) expect(nameProblem(name)).toBeNull()
    for (const name of ['2a', 'a b', '', 'x', 'vx', 'pi', 'm', 't', 'a-b'])
      expect(nameProblem(name)).not.toBeNull()
    expect(asName(' tide staff, left ')).toBe('tide_staff_left')
  })

  it('of references are known with their lengths', () => {
    const [constant, reference] = analyse(made({})).numbers()
    expect(constant).toMatchObject({ name: 'L', value: 0.4, error: 0.02 })
    expect(reference).toMatchObject({ value: 1.4, unit: 'm' })
  })
})

describe('units', () => {
  it.each([
    ['m/s²', 'm/s²', 1],
    ['kg*m/s^2', 'N', 1],
    ['J/(kg·m)', 'm/s²', 1],
    ['cm', 'm', 0.01],
    ['N·m', 'J', 1],
    ['km/h', 'm/s', 1 / 3.6],
    ['1/s', '1/s', 1],
    ['s⁻²', '1/s²', 1],
    ['°/s', 'rad/s', Math.PI / 180],
    ['', '', 1],
  ])('“%s” is understood', (text, unit, factor) => {
    const parsed = parseUnit(text)!
    expect(unitOf(parsed.dimension, 'm')).toBe(unit)
    expect(parsed.factor).toBeCloseTo(factor, 12)
  })

  it.each(['foo', 'm/', 'm//s', 'm^^2', '2m', 'constructor', 'm/s/'])('“%s” is none', (text) => {
    expect(parseUnit(text)).toBeNull()
  })
})
