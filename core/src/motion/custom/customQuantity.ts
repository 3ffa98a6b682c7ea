import { type CustomQuantity, type Investigation, inOrder } from '../../investigation/index.ts'
import { type Dimension, parseUnit, unitOf } from '../../units/index.ts'
import { commonError } from '../errorSensitivity.ts'
import { type CustomDefinition, type DerivedQuantity, dimension, QUANTITIES } from '../quantities/index.ts'
import { type Expression, readExpression } from './expression.ts'
import { ExpressionError, type ExpressionProblem } from './expressionError.ts'
import { areAlike } from './functions.ts'
import type { KnownNumber } from './names.ts'

const BUILT_IN = new Set(Object.keys(QUANTITIES))

/** Quantities that were defined, by id: each is once, however many stand on it. */
type Made = Map<string, DerivedQuantity>

/** The quantities that somebody has defined in an investigation; each is derived once. */
export class CustomDefinitions {
  private readonly all = new Map<string, CustomDefinition>()
  private readonly made: Made = new Map()

  /** @param numbers what their expressions can use beside other quantities */
  constructor(
    private readonly investigation: Investigation,
    private readonly numbers: () => readonly KnownNumber[],
  ) {}

  /** Returns a quantity by its id, or why it can't be derived; null where there is none. */
  get(id: string): CustomDefinition | null {
    const own = this.investigation.quantities[id]
    if (!own) return null
    const ready = this.all.get(id)
    if (ready) return ready
    const { investigation, numbers, made } = this
    const defined = tried(() => define({ investigation, numbers, made }, id, own, []))
    this.all.set(id, defined)
    return defined
  }
}

/** What a definition is made within. */
interface Context {
  investigation: Investigation
  numbers: () => readonly KnownNumber[]
  made: Made
}

/** Returns why a quantity that is being written can't be derived; null where it can. */
export function definitionProblem(
  investigation: Investigation,
  numbers: () => readonly KnownNumber[],
  id: string,
  own: CustomQuantity,
): ExpressionProblem | null {
  const changed = { ...investigation, quantities: { ...investigation.quantities, [id]: own } }
  return tried(() => define({ investigation: changed, numbers, made: new Map() }, id, own, [])).error
}

function tried(make: () => DerivedQuantity): CustomDefinition {
  try {
    return { quantity: make(), error: null }
  } catch (error) {
    if (error instanceof ExpressionError) return { quantity: null, error: error.problem }
    throw error
  }
}

/** What a name in an expression is. */
type Meaning =
  | { kind: 'column'; id: string; dimension: Dimension }
  | { kind: 'mass' | 'g'; dimension: Dimension }
  | { kind: 'number'; number: KnownNumber; index: number; dimension: Dimension }

/** @param within own quantities that are being defined by this one, outermost first */
function define(context: Context, id: string, own: CustomQuantity, within: string[]): DerivedQuantity {
  const { made } = context
  const ready = made.get(id)
  if (ready) return ready
  const expression = readExpression(own.expression)
  const meanings = expression.names.map((name) => meaningOf(context, name, [...within, id]))
  const found = expression.dimension(meanings.map((meaning) => meaning.dimension))
  const unit = parseUnit(own.unit)
  if (!unit) throw new ExpressionError({ code: 'unknown-unit', unit: own.unit })
  const isStated = own.unit.trim() !== ''
  if (isStated && !areAlike(found, unit.dimension))
    throw new ExpressionError({ code: 'wrong-unit', found: unitOf(found, 'm'), wanted: own.unit.trim() })
  const columns = meanings.flatMap((meaning) => (meaning.kind === 'column' ? [meaning.id] : []))
  const quantity: DerivedQuantity = {
    kind: 'derived',
    id,
    symbol: own.symbol,
    subscript: '',
    name: own.name,
    expression: own.expression,
    dimension: found,
    ...(isStated && { unit: own.unit.trim() }),
    direction: 'size',
    needs: [
      ...(meanings.some(({ kind }) => kind === 'mass') ? (['mass'] as const) : []),
      ...(meanings.some(({ kind }) => kind === 'g') || needsMetres(own, unit.dimension)
        ? (['scale'] as const)
        : []),
    ],
    from: columns,
    evaluate: evaluated(expression, meanings, unit.factor),
  }
  made.set(id, quantity)
  return quantity
}

/** Returns true if its unit has a length in it that pixels are not. */
const needsMetres = ({ unit }: CustomQuantity, { length }: Dimension) => length !== 0 && !unit.includes('px')

function evaluated(expression: Expression, meanings: Meaning[], factor: number): DerivedQuantity['evaluate'] {
  return (values, constants) => {
    let column = 0
    const given = meanings.map((meaning) => {
      if (meaning.kind === 'column') return values[column++]
      if (meaning.kind === 'number') return meaning.number.value
      return meaning.kind === 'mass' ? constants.mass : constants.g
    })
    const { value, gradient } = expression.evaluate(given)
    const common = meanings.flatMap((meaning, i): [number, number][] => {
      const by = gradient[i] / factor
      if (meaning.kind === 'mass') return [[commonError.mass(constants.number), by * constants.massError]]
      if (meaning.kind === 'g') return [[commonError.freeFall, by * constants.gError]]
      if (meaning.kind === 'number')
        return [[commonError.knownNumber(meaning.index), by * meaning.number.error]]
      return []
    })
    return {
      value: value / factor,
      gradient: meanings.flatMap((meaning, i) => (meaning.kind === 'column' ? [gradient[i] / factor] : [])),
      common: common.filter(([, by]) => by !== 0),
    }
  }
}

function meaningOf(context: Context, name: string, within: string[]): Meaning {
  const { investigation, numbers } = context
  if (name === 't') return { kind: 'column', id: 't', dimension: dimension({ time: 1 }) }
  if (name === 'm') return { kind: 'mass', dimension: dimension({ mass: 1 }) }
  if (name === 'g') return { kind: 'g', dimension: dimension({ length: 1, time: -2 }) }
  if (BUILT_IN.has(name))
    return { kind: 'column', id: name, dimension: QUANTITIES[name as keyof typeof QUANTITIES].dimension }
  const [id, other] = inOrder(investigation.quantities).find(([, { symbol }]) => symbol === name) ?? []
  if (id !== undefined && other) {
    if (within.includes(id))
      throw new ExpressionError({ code: 'circular', name, isDirect: within.length === 1 })
    return { kind: 'column', id, dimension: define(context, id, other, within).dimension }
  }
  const index = numbers().findIndex((one) => one.name === name)
  if (index === -1) throw new ExpressionError({ code: 'unknown-name', name })
  const number = numbers()[index]
  return { kind: 'number', number, index, dimension: number.dimension }
}
