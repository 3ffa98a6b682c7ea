import type { Evaluate } from '../../regression/index.ts'
import { sum, term } from './formula.ts'
import type { Exponents, Law, LawParameter, LawReading, Setting } from './model.ts'

/** Names of a position's derivatives, from the position itself on, at t = 0. */
const DERIVATIVES: readonly { symbol: string; name: string; turning: string }[] = [
  { symbol: 's', name: 'position', turning: 'angle' },
  { symbol: 'v', name: 'velocity', turning: 'angular velocity' },
  { symbol: 'a', name: 'acceleration', turning: 'angular acceleration' },
  {
    symbol: 'j',
    name: 'rate of change of the acceleration',
    turning: 'rate of change of the angular acceleration',
  },
]
/** The letters of what turns. */
const TURNING = ['s', 'ω', 'α', 'j']
const FACTORIALS = [1, 1, 2, 6]
const FRACTIONS = ['', '', '\\tfrac{1}{2}', '\\tfrac{1}{6}']

const raised = (along: string, power: number) =>
  power === 0 ? '' : power === 1 ? along : `${along}^{${power}}`

/** Coefficients of a polynomial when its variable counts from so much later. */
function shifted(coefficients: ArrayLike<number>, by: number): number[] {
  const moved = Array.from(coefficients)
  for (let k = 0; k < moved.length; k++)
    for (let j = moved.length - 2; j >= k; j--) moved[j] += by * moved[j + 1]
  return moved
}

/** Returns the values and slopes of some powers of the places. */
function powersOn(places: ArrayLike<number>, powers: readonly number[]): Evaluate {
  return (own, values, jacobian) => {
    for (let i = 0; i < places.length; i++) {
      let value = 0
      for (let k = 0; k < powers.length; k++) {
        const power = powers[k] === 0 ? 1 : powers[k] === 1 ? places[i] : places[i] ** powers[k]
        value += own[k] * power
        if (jacobian) jacobian[k][i] = power
      }
      values[i] = value
    }
  }
}

/**
 * Returns the law of a motion whose position is a polynomial in time: of a velocity it is that polynomial's derivative. Of any
 * other column it is the polynomial itself.
 *
 * @param degree of the position's polynomial
 * @returns null where it says only that the column is zero
 */
export function polynomialLaw({ order, letter, isAngle, form }: Setting, degree: number): Law | null {
  const derived = order ?? 0
  const count = degree - derived + 1
  if (count < 1) return null
  const isPhysics = form === 'physics' && order !== null
  const factor = (k: number) => (isPhysics ? FACTORIALS[k] : 1)
  const parameters = Array.from({ length: count }, (_, k): LawParameter => {
    const dimension: Exponents = { value: 1, along: -k }
    if (!isPhysics)
      return {
        symbol: 'c',
        subscript: String(k),
        dimension,
        name: k === 0 ? 'value at t = 0' : `coefficient of t to the power ${k}`,
      }
    const { symbol, name, turning } = DERIVATIVES[derived + k]
    const own = isAngle ? TURNING[derived + k] : symbol
    const isConstant = k === count - 1 && derived + k > 0
    return {
      symbol: own === 's' ? letter : own,
      subscript: isConstant ? '' : '0',
      name: `${isAngle ? turning : name}${isConstant ? '' : ' at t = 0'}`,
      dimension,
    }
  })
  return {
    ...(order === null && { name: ['Constant', 'Straight line', 'Parabola', 'Cubic'][degree] }),
    parameters,
    formula: (given, along) =>
      sum(...given.map((one, k) => term(one, raised(along, k), isPhysics ? FRACTIONS[k] : ''))),
    readings: readingsOf(order, degree, isAngle, factor),
    linear: parameters.map((_, k) => k),
    on: (places) =>
      powersOn(
        places,
        parameters.map((_, k) => k),
      ),
    begin: () => ({ starts: [parameters.map(() => 0)] }),
    toShown: (own, zero) => shifted(own, -zero).map((one, k) => factor(k) * one),
    fromShown: (shown, zero) =>
      shifted(
        shown.map((one, k) => one / factor(k)),
        zero,
      ),
  }
}

/** Returns a derivative, of the column, of a polynomial with these coefficients. */
function derivativeAt(coefficients: readonly number[], times: number, at: number): number {
  let sum = 0
  for (let k = coefficients.length - 1; k >= times; k--) {
    let falling = 1
    for (let j = 0; j < times; j++) falling *= k - j
    sum = sum * at + falling * coefficients[k]
  }
  return sum
}

function readingsOf(
  order: Setting['order'],
  degree: number,
  isAngle: boolean,
  factor: (k: number) => number,
): LawReading[] {
  const plain = (shown: readonly number[]) => shown.map((one, k) => one / factor(k))
  /** Returns a derivative of the position, at a place of the stretch. */
  const derivative = (of: number, key: string, name: string, at: 'from' | 'to' = 'from'): LawReading => ({
    key,
    name,
    symbol: isAngle ? TURNING[of].replace('s', 'θ') : DERIVATIVES[of].symbol,
    subscript: '',
    dimension: { value: 1, along: -(of - derived) },
    of: (shown, where) => derivativeAt(plain(shown), of - derived, where[at]),
  })
  const derived = order ?? 0
  if (order === null)
    return degree === 0
      ? [derivative(0, 'value', 'Value')]
      : degree === 1
        ? [
            { ...derivative(1, 'slope', 'Slope'), symbol: 'k' },
            {
              key: 'intercept',
              name: 'Intercept',
              symbol: 'c',
              subscript: '0',
              dimension: { value: 1 },
              of: (shown) => plain(shown)[0],
            },
          ]
        : [
            { ...derivative(1, 'slope', 'Slope at the start'), symbol: 'k' },
            { ...derivative(2, 'bend', 'Change of slope at the start'), symbol: 'b' },
          ]
  const angular = (name: string) => (isAngle ? `Angular ${name.toLowerCase()}` : name)
  switch (degree) {
    case 0:
      return [derivative(0, 'position', isAngle ? 'Angle' : 'Position')]
    case 1:
      return [derivative(1, 'velocity', angular('Velocity'))]
    case 2: {
      const readings = [derivative(2, 'acceleration', angular('Acceleration'))]
      if (order > 1) return readings
      const turning: LawReading = {
        key: 'turning-time',
        name: 'Turns back at',
        symbol: 't',
        subscript: '',
        dimension: { along: 1 },
        of: (shown, { from, to }) => {
          const coefficients = plain(shown)
          const time = -derivativeAt(coefficients, 1 - order, 0) / derivativeAt(coefficients, 2 - order, 0)
          // Far from the stretch it would be foretold from next to nothing.
          return time >= from - (to - from) && time <= to + (to - from) ? time : Number.NaN
        },
      }
      readings.push(
        { ...derivative(1, 'start-velocity', angular('Velocity at the start')), subscript: 'start' },
        { ...derivative(1, 'end-velocity', angular('Velocity at the end'), 'to'), subscript: 'end' },
        turning,
      )
      if (order === 0)
        readings.push({
          key: 'turning-place',
          name: isAngle ? 'Angle there' : 'Position there',
          symbol: isAngle ? 'θ' : 's',
          subscript: '',
          dimension: { value: 1 },
          of: (shown, where) => derivativeAt(plain(shown), 0, turning.of(shown, where)),
        })
      return readings
    }
    default:
      return [
        derivative(3, 'jerk', 'Rate of change of the acceleration'),
        ...(order < 3
          ? [
              derivative(2, 'start-acceleration', angular('Acceleration at the start')),
              derivative(2, 'end-acceleration', angular('Acceleration at the end'), 'to'),
            ]
          : []),
      ]
  }
}
