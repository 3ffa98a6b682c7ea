import { readExpression } from '../../motion/index.ts'
import { type Evaluate, FitError, linearParameters } from '../../regression/index.ts'
import { inferredDimensions } from './inferred.ts'
import { AS_KNOWN, type Law, type Model } from './model.ts'
import { bestOf } from './starts.ts'

/** A model that somebody has written: an expression in one variable, with parameters that the fit finds. */
export interface FreeForm {
  /** Names of the parameters, in the order in which they stand in it. */
  parameters: readonly string[]
  /** As the engine asks for it, at some values of the variable. */
  on(values: ArrayLike<number>): Evaluate
}

/** Parameters of one model at most: more are told by no lab's points. */
const MOST_PARAMETERS = 20

/**
 * Understands a model such as c + a*exp(-t/tau): every name in it but the variable, pi, e and functions is a parameter.
 *
 * @throws ExpressionError where it can't be read; FitError where it has no parameter, or far too many
 */
export function readFreeForm(text: string, variable: string): FreeForm {
  const expression = readExpression(text)
  const parameters = expression.names.filter((name) => name !== variable)
  if (parameters.length === 0) throw new FitError({ code: 'nothing-to-fit', variable })
  if (parameters.length > MOST_PARAMETERS)
    throw new FitError({
      code: 'too-many-parameters',
      parameters: parameters.length,
      most: MOST_PARAMETERS,
    })
  // Where each name of the expression comes from: −1 is the variable.
  const places = expression.names.map((name) => parameters.indexOf(name))
  return {
    parameters,
    on: (at) => (given, values, jacobian) => {
      const now = new Array<number>(places.length)
      for (let i = 0; i < at.length; i++) {
        for (let j = 0; j < places.length; j++) now[j] = places[j] < 0 ? at[i] : given[places[j]]
        const linearised = expression.evaluate(now)
        values[i] = linearised.value
        if (jacobian)
          for (let j = 0; j < places.length; j++)
            if (places[j] >= 0) jacobian[places[j]][i] = linearised.gradient[j]
      }
    },
  }
}

/** Any values of the variable and of parameters, by which it is seen what enters linearly, wherever the points lie. */
const PROBES = { variable: [0.37, 0.81, 1.13, 2.39, 3.71, 5.23], first: 0.53, step: 0.37 }

/** Places of the parameters that a model is linear in, together. */
function linearIn({ parameters, on }: FreeForm): number[] {
  const { variable, first, step } = PROBES
  const at = parameters.map((_, k) => first + step * k)
  return linearParameters(on(variable), at, variable.length)
}

/** Values that a parameter is tried with where nobody has said one, and how many sets of them at most. */
const TRIED = [1, -1, 0.1, 10]
const MOST_TRIED = 256

/** A model that somebody writes. */
export const freeForm: Model = {
  id: 'free-form',
  name: 'Your own expression',
  group: 'own',
  law: ({ expression, variable, start }): Law => {
    const { parameters, on } = readFreeForm(expression, variable)
    const named = parameters.map((name) => {
      const [, symbol, subscript] = /^([A-Za-z]+?)_?(\d*)$/.exec(name) ?? [null, name, '']
      return { symbol: GREEK[symbol] ?? symbol, subscript }
    })
    const dimensions = inferredDimensions(expression, variable, parameters)
    const isGiven = (name: string) => Object.hasOwn(start, name)
    const given = parameters.map((name) => (isGiven(name) ? start[name] : 1))
    const linear = linearIn({ parameters, on })
    return {
      parameters: named.map((what, k) => ({ ...what, name: parameters[k], dimension: dimensions[k] })),
      readings: named.map((what, k) => ({
        ...what,
        key: parameters[k],
        name: parameters[k],
        dimension: dimensions[k],
        of: (shown) => shown[k],
      })),
      formula: () => '',
      linear,
      ...AS_KNOWN,
      on,
      begin: (places, values) => {
        let tried: number[][] = [[]]
        parameters.forEach((name, k) => {
          const choices = isGiven(name) || linear.includes(k) ? [given[k]] : TRIED
          if (tried.length * choices.length <= MOST_TRIED)
            tried = tried.flatMap((one) => choices.map((choice) => [...one, choice]))
          else tried = tried.map((one) => [...one, choices[0]])
        })
        const best = bestOf(on, linear, tried, places, values, 3)
        // What somebody has said is tried as it is.
        return {
          starts: [
            given,
            ...best.map((one) => one.map((value, k) => (linear.includes(k) ? given[k] : value))),
          ],
        }
      },
    }
  },
}

/** Letters that people write out. */
const GREEK: Record<string, string> = {
  omega: 'ω',
  tau: 'τ',
  phi: 'φ',
  theta: 'θ',
  alpha: 'α',
  gamma: 'γ',
  mu: 'μ',
  sigma: 'σ',
}
