import type { Dimension } from '../../units/index.ts'
import { ExpressionError } from './expressionError.ts'

export const PURE: Dimension = { mass: 0, length: 0, time: 0, angle: 0 }
const ANGLE: Dimension = { ...PURE, angle: 1 }
const KEYS = ['mass', 'length', 'time', 'angle'] as const
/** Returns true if a dimension is a pure number or an angle. */
export const isPure = ({ mass, length, time }: Dimension) => mass === 0 && length === 0 && time === 0
/** Returns true if two quantities can be added: an angle is a pure number. */
export const areAlike = (a: Dimension, b: Dimension) =>
  (['mass', 'length', 'time'] as const).every((key) => Math.abs(a[key] - b[key]) < 1e-9)

/** Returns the dimension of a product (sign 1) or a quotient (−1); an angle beside a length or a mass is dropped. */
export function combined(a: Dimension, b: Dimension, sign: 1 | -1): Dimension {
  const sum = { ...PURE }
  for (const key of KEYS) sum[key] = a[key] + sign * b[key]
  return sum.mass !== 0 || sum.length !== 0 ? { ...sum, angle: 0 } : sum
}

/** Returns the dimension of a power. */
export const powered = (a: Dimension, by: number): Dimension => ({
  mass: a.mass * by,
  length: a.length * by,
  time: a.time * by,
  angle: a.mass === 0 && a.length === 0 ? a.angle * by : 0,
})

/** A function of one number with its derivative, and the dimension of its value; without that it takes pure numbers only. */
interface Single {
  of: (x: number) => number
  slope: (x: number) => number
  /** @throws ExpressionError naming the function if it takes no such value */
  dimension?: (of: Dimension, name: string) => Dimension
}

const fromAngle = { dimension: (of: Dimension, name: string) => (isPure(of) ? PURE : notAnAngle(name)) }
const toAngle = { dimension: (of: Dimension, name: string) => (isPure(of) ? ANGLE : notAnAngle(name)) }
const notAnAngle = (name: string): never => {
  throw new ExpressionError({ code: 'argument-angle', name })
}

/** Functions of one number. */
export const SINGLE: Record<string, Single> = {
  sin: { of: Math.sin, slope: Math.cos, ...fromAngle },
  cos: { of: Math.cos, slope: (x) => -Math.sin(x), ...fromAngle },
  tan: { of: Math.tan, slope: (x) => 1 / Math.cos(x) ** 2, ...fromAngle },
  asin: { of: Math.asin, slope: (x) => 1 / Math.sqrt(1 - x * x), ...toAngle },
  acos: { of: Math.acos, slope: (x) => -1 / Math.sqrt(1 - x * x), ...toAngle },
  atan: { of: Math.atan, slope: (x) => 1 / (1 + x * x), ...toAngle },
  sinh: { of: Math.sinh, slope: Math.cosh },
  cosh: { of: Math.cosh, slope: Math.sinh },
  tanh: { of: Math.tanh, slope: (x) => 1 / Math.cosh(x) ** 2 },
  exp: { of: Math.exp, slope: Math.exp },
  ln: { of: Math.log, slope: (x) => 1 / x },
  log: { of: Math.log, slope: (x) => 1 / x },
  log10: { of: Math.log10, slope: (x) => 1 / (x * Math.LN10) },
  log2: { of: Math.log2, slope: (x) => 1 / (x * Math.LN2) },
  sqrt: { of: Math.sqrt, slope: (x) => 0.5 / Math.sqrt(x), dimension: (of) => powered(of, 1 / 2) },
  cbrt: { of: Math.cbrt, slope: (x) => 1 / (3 * Math.cbrt(x) ** 2), dimension: (of) => powered(of, 1 / 3) },
  abs: { of: Math.abs, slope: Math.sign, dimension: (of) => of },
  sign: { of: Math.sign, slope: () => 0, dimension: () => PURE },
}

/** Functions of two numbers: value and derivatives by each. */
export const DOUBLE: Record<
  string,
  { of: (a: number, b: number) => [number, number, number]; dimension: (a: Dimension) => Dimension }
> = {
  atan2: {
    of: (y, x) => [Math.atan2(y, x), x / (x * x + y * y), -y / (x * x + y * y)],
    dimension: () => ANGLE,
  },
  hypot: {
    of: (a, b) => {
      const size = Math.hypot(a, b)
      return size > 0 ? [size, a / size, b / size] : [0, 1, 1]
    },
    dimension: (a) => a,
  },
  min: { of: (a, b) => (a <= b ? [a, 1, 0] : [b, 0, 1]), dimension: (a) => a },
  max: { of: (a, b) => (a >= b ? [a, 1, 0] : [b, 0, 1]), dimension: (a) => a },
}

/** Names of the functions that an expression can use. */
export const FUNCTIONS: readonly string[] = [...Object.keys(SINGLE), ...Object.keys(DOUBLE), 'mean']
