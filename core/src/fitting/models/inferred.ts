import { type Node, parsed } from '../../motion/index.ts'
import type { Exponents } from './model.ts'

/** What something is made of: of each parameter so many times, and of the value's and the variable's dimension. */
interface Form {
  of: number[]
  value: number
  along: number
}

/** Functions that keep, halve or third a dimension, and those of two alike things; all others take pure numbers. */
const POWERS: Record<string, number> = { sqrt: 1 / 2, cbrt: 1 / 3, abs: 1 }
const OF_ALIKE = ['hypot', 'min', 'max', 'mean']
const NUMBERS = ['pi', 'e']

/**
 * Returns what a free form's parameters must be measured in so that the whole comes out as the column does: added things are
 * alike, functions take pure numbers, and each product adds exponents. Null for those that this leaves open, or for all
 * where it can't be.
 *
 * @param text of the expression, which has been read before
 */
export function inferredDimensions(
  text: string,
  variable: string,
  parameters: readonly string[],
): (Exponents | null)[] {
  const equations: Form[] = []
  const count = parameters.length
  const pure = (): Form => ({ of: new Array<number>(count).fill(0), value: 0, along: 0 })
  const plus = (a: Form, b: Form, times: number): Form => ({
    of: a.of.map((one, k) => one + times * b.of[k]),
    value: a.value + times * b.value,
    along: a.along + times * b.along,
  })
  const alike = (a: Form, b: Form) => {
    equations.push(plus(a, b, -1))
    return a
  }
  const formOf = (node: Node): Form => {
    switch (node.type) {
      case 'ParenthesisNode':
        return formOf(node.content!)
      case 'SymbolNode': {
        const form = pure()
        const at = parameters.indexOf(node.name!)
        if (node.name === variable) form.along = 1
        else if (at >= 0 && !NUMBERS.includes(node.name!)) form.of[at] = 1
        return form
      }
      case 'OperatorNode':
        return operated(String(node.fn), node.args!)
      case 'FunctionNode':
        return called((node.fn as Node).name ?? '', node.args!)
      default:
        return pure()
    }
  }
  const operated = (fn: string, args: Node[]): Form => {
    const [a, b] = args.map(formOf)
    if (fn === 'add' || fn === 'subtract') return alike(a, b)
    if (fn === 'multiply') return plus(a, b, 1)
    if (fn === 'divide') return plus(a, b, -1)
    if (fn === 'pow') return raised(a, b, args[1])
    return a
  }
  const raised = (base: Form, exponent: Form, node: Node): Form => {
    alike(exponent, pure())
    const power = fixedOf(node)
    if (power !== null) return plus(pure(), base, power)
    return alike(base, pure())
  }
  const called = (name: string, args: Node[]): Form => {
    const forms = args.map(formOf)
    if (name === 'pow') return raised(forms[0], forms[1], args[1])
    if (name in POWERS) return plus(pure(), forms[0], POWERS[name])
    if (OF_ALIKE.includes(name)) return forms.reduce(alike)
    if (name === 'atan2') alike(forms[0], forms[1])
    else if (name !== 'sign') for (const form of forms) alike(form, pure())
    return pure()
  }
  equations.push(plus(formOf(parsed(text) as Node), { ...pure(), value: 1 }, -1))
  return solution(equations, count)
}

/** Returns the number that a node is; null where it has a name in it. */
function fixedOf(node: Node): number | null {
  if (node.type === 'ParenthesisNode') return fixedOf(node.content!)
  if (node.type === 'ConstantNode') return Number(node.value)
  if (node.type !== 'OperatorNode') return null
  const [a, b] = node.args!.map(fixedOf)
  if (a === null || b === null) return null
  if (node.fn === 'unaryMinus') return -a
  return node.fn === 'divide' && b !== undefined ? a / b : null
}

const NOTHING = 1e-9

/** Solves the equations, each of which is to be nothing, by Gauss and Jordan's elimination. */
function solution(equations: readonly Form[], count: number): (Exponents | null)[] {
  const rows = equations.map(({ of, value, along }) => [...of, -value, -along])
  const pivots: number[] = []
  let next = 0
  for (let column = 0; column < count; column++) {
    const at = rows.findIndex((row, i) => i >= next && Math.abs(row[column]) > NOTHING)
    if (at < 0) continue
    const [row] = rows.splice(at, 1)
    const lead = row.map((one) => one / row[column])
    rows.splice(next, 0, lead)
    rows.forEach((other, i) => {
      const times = other[column]
      if (i !== next && times !== 0) rows[i] = other.map((one, k) => one - times * lead[k])
    })
    pivots[column] = next++
  }
  const isContrary = rows.slice(next).some((row) => row.slice(count).some((one) => Math.abs(one) > NOTHING))
  return Array.from({ length: count }, (_, column) => {
    const row = pivots[column] === undefined ? null : rows[pivots[column]]
    const isTold = row?.every((one, k) => k >= count || k === column || Math.abs(one) < NOTHING)
    return isContrary || !row || !isTold ? null : { value: row[count] + 0, along: row[count + 1] + 0 }
  })
}
