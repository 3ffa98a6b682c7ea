import { create, type MathJsInstance, type MathNode, parseDependencies } from 'mathjs/number'
import { MOST_EXPRESSION } from '../../investigation/index.ts'
import type { Dimension } from '../../units/index.ts'
import { ExpressionError } from './expressionError.ts'
import { areAlike, combined, DOUBLE, FUNCTIONS, isPure, PURE, powered, SINGLE } from './functions.ts'

/** A number and its derivatives by each name. */
interface Dual {
  value: number
  gradient: readonly number[]
}

/** A parsed expression. */
export interface Expression {
  /** Names in it, each once, without functions, pi and e. */
  names: readonly string[]
  /** Returns its value and gradient for values of the names, in their order. */
  evaluate(values: readonly number[]): Dual
  /**
   * Returns the dimension of what it gives, by those of its names. Angles count as pure numbers, but where nothing else is left.
   *
   * @throws ExpressionError where unlike things are added, or a function is asked for something that has a unit
   */
  dimension(of: readonly Dimension[]): Dimension
}

type Branch = (values: readonly number[]) => Dual
type Sizing = (of: readonly Dimension[]) => Dimension

interface Part {
  at: Branch
  dimension: Sizing
  /** Its value if it is constant; null otherwise. */
  fixed: number | null
}

const NAMED_NUMBERS: Record<string, number> = { pi: Math.PI, e: Math.E }

/**
 * Understands an expression of numbers, names, + − * / ^, parentheses and the functions above (the parser is mathjs's;
 * everything else that it knows is refused). Slopes are found along with the value (forward-mode differentiation:
 * Griewank and Walther, Evaluating Derivatives, 2008, chapter 3).
 *
 * @throws ExpressionError
 */
export function readExpression(text: string): Expression {
  if (text.trim() === '') throw new ExpressionError({ code: 'empty' })
  if (text.length > MOST_EXPRESSION) throw new ExpressionError({ code: 'too-long', most: MOST_EXPRESSION })
  const names: string[] = []
  const root = guarded(() => understood(parsed(text), names))
  return {
    names,
    evaluate: (values) => root.at(values),
    dimension: (of) => guarded(() => root.dimension(of)),
  }
}

/**
 * TeX of an expression, with each of its names as it is given.
 *
 * @throws ExpressionError where it can't be read
 */
export function expressionTex(text: string, of: (name: string) => string): string {
  const node = guarded(() => parsed(text))
  return node.toTex({
    handler: (one: Node) =>
      // The space keeps it apart from a command before it.
      one.type === 'SymbolNode' && !Object.hasOwn(NAMED_NUMBERS, one.name!) ? ` ${of(one.name!)}` : undefined,
  })
}

/** Returns what is too deeply nested is refused like anything else. */
function guarded<T>(act: () => T): T {
  try {
    return act()
  } catch (error) {
    if (error instanceof RangeError) throw new ExpressionError({ code: 'too-deep' })
    throw error
  }
}

/** The parser, made when it is first used: with all of mathjs it takes a tenth of a second, which most pages can do without. */
let parser: Pick<MathJsInstance, 'parse'> | null = null

/**
 * Returns the tree of an expression, as mathjs reads it.
 *
 * @throws ExpressionError where it can't be read
 */
export function parsed(text: string): MathNode {
  try {
    parser ??= create({ parseDependencies }, {})
    return parser.parse(
      text.replaceAll('−', '-').replaceAll('·', '*').replaceAll('²', '^2').replaceAll('³', '^3'),
    )
  } catch (error) {
    if (error instanceof RangeError) throw error
    const at = /\(char (\d+)\)/.exec(error instanceof Error ? error.message : '')?.[1]
    throw new ExpressionError({
      code: 'unreadable',
      at: at
        ? { character: Number(at), text: text.slice(Math.max(0, Number(at) - 1), Number(at) + 11) }
        : null,
    })
  }
}

/** What of mathjs's nodes is looked at. */
export interface Node {
  type: string
  name?: string
  value?: unknown
  fn?: unknown
  args?: Node[]
  content?: Node
}

function understood(node: Node, names: string[]): Part {
  switch (node.type) {
    case 'ParenthesisNode':
      return understood(node.content!, names)
    case 'ConstantNode':
      if (typeof node.value !== 'number') break
      return number(node.value)
    case 'SymbolNode':
      return symbol(node.name!, names)
    case 'OperatorNode':
      return operator(
        String(node.fn),
        node.args!.map((arg) => understood(arg, names)),
      )
    case 'FunctionNode': {
      const called = (node.fn as Node).name
      if (called === undefined) break
      return call(
        called,
        node.args!.map((arg) => understood(arg, names)),
      )
    }
  }
  throw new ExpressionError({ code: 'not-allowed' })
}

const number = (value: number): Part => ({
  at: (values) => ({ value, gradient: values.map(() => 0) }),
  dimension: () => PURE,
  fixed: value,
})

function symbol(name: string, names: string[]): Part {
  if (Object.hasOwn(NAMED_NUMBERS, name)) return number(NAMED_NUMBERS[name])
  if (!names.includes(name)) names.push(name)
  const at = names.indexOf(name)
  return {
    at: (values) => ({ value: values[at], gradient: values.map((_, i) => (i === at ? 1 : 0)) }),
    dimension: (of) => of[at],
    fixed: null,
  }
}

const scaled = (gradient: readonly number[], by: number) => gradient.map((slope) => by * slope)
const added = (a: readonly number[], b: readonly number[], byA: number, byB: number) =>
  a.map((slope, i) => byA * slope + byB * b[i])

function operator(fn: string, [a, b]: Part[]): Part {
  const fixed = (of: (x: number, y: number) => number) =>
    a.fixed !== null && (!b || b.fixed !== null) ? of(a.fixed, b?.fixed ?? Number.NaN) : null
  const binary = (of: (x: number, y: number) => [number, number, number], dimension: Sizing): Part => ({
    at: (values) => {
      const [left, right] = [a.at(values), b.at(values)]
      const [value, byLeft, byRight] = of(left.value, right.value)
      return { value, gradient: added(left.gradient, right.gradient, byLeft, byRight) }
    },
    dimension,
    fixed: fixed((x, y) => of(x, y)[0]),
  })
  const alike: Sizing = (of) => {
    const [left, right] = [a.dimension(of), b.dimension(of)]
    if (!areAlike(left, right)) throw new ExpressionError({ code: 'different-units' })
    return left
  }
  switch (fn) {
    case 'add':
      return binary((x, y) => [x + y, 1, 1], alike)
    case 'subtract':
      return binary((x, y) => [x - y, 1, -1], alike)
    case 'multiply':
      return binary(
        (x, y) => [x * y, y, x],
        (of) => combined(a.dimension(of), b.dimension(of), 1),
      )
    case 'divide':
      return binary(
        (x, y) => [x / y, 1 / y, -x / (y * y)],
        (of) => combined(a.dimension(of), b.dimension(of), -1),
      )
    case 'unaryMinus':
      return {
        at: (values) => {
          const { value, gradient } = a.at(values)
          return { value: -value, gradient: scaled(gradient, -1) }
        },
        dimension: a.dimension,
        fixed: fixed((x) => -x),
      }
    case 'unaryPlus':
      return a
    case 'pow':
      return power(
        a,
        b,
        fixed((x, y) => x ** y),
      )
  }
  throw new ExpressionError({ code: 'operator' })
}

function power(a: Part, b: Part, fixed: number | null): Part {
  return {
    at: (values) => {
      const [left, right] = [a.at(values), b.at(values)]
      const value = left.value ** right.value
      const byBase = right.value === 0 ? 0 : right.value * left.value ** (right.value - 1)
      // By the exponent only where it can change: a negative number has no logarithm.
      const byExponent = b.fixed === null ? value * Math.log(left.value) : 0
      return { value, gradient: added(left.gradient, right.gradient, byBase, byExponent) }
    },
    dimension: (of) => {
      const base = a.dimension(of)
      if (!isPure(b.dimension(of))) throw new ExpressionError({ code: 'exponent-unit' })
      if (b.fixed !== null) return powered(base, b.fixed)
      if (!isPure(base)) throw new ExpressionError({ code: 'exponent-varies' })
      return PURE
    },
    fixed,
  }
}

/** Returns the mean of any number of alike things. */
function meanOf(args: Part[]): Part {
  const sum = args.reduce((one, other) => operator('add', [one, other]))
  return operator('divide', [sum, number(args.length)])
}

function call(name: string, args: Part[]): Part {
  if (name === 'pow' && args.length === 2) return operator('pow', args)
  if (name === 'mean' && args.length > 0) return meanOf(args)
  const single = Object.hasOwn(SINGLE, name) ? SINGLE[name] : undefined
  const double = Object.hasOwn(DOUBLE, name) ? DOUBLE[name] : undefined
  if (!single && !double) throw new ExpressionError({ code: 'unknown-function', name, known: FUNCTIONS })
  const wanted = single ? 1 : 2
  if (args.length !== wanted) throw new ExpressionError({ code: 'argument-count', name, count: wanted })
  const [a, b] = args
  if (single)
    return {
      at: (values) => {
        const { value, gradient } = a.at(values)
        return { value: single.of(value), gradient: scaled(gradient, single.slope(value)) }
      },
      dimension: (of) => {
        const given = a.dimension(of)
        if (single.dimension) return single.dimension(given, name)
        if (!isPure(given)) throw new ExpressionError({ code: 'argument-pure', name })
        return PURE
      },
      fixed: a.fixed === null ? null : single.of(a.fixed),
    }
  return {
    at: (values) => {
      const [left, right] = [a.at(values), b.at(values)]
      const [value, byLeft, byRight] = double!.of(left.value, right.value)
      return { value, gradient: added(left.gradient, right.gradient, byLeft, byRight) }
    },
    dimension: (of) => {
      const [left, right] = [a.dimension(of), b.dimension(of)]
      if (!areAlike(left, right)) throw new ExpressionError({ code: 'arguments-alike', name })
      return double!.dimension(left)
    },
    fixed: a.fixed === null || b.fixed === null ? null : double!.of(a.fixed, b.fixed)[0],
  }
}
