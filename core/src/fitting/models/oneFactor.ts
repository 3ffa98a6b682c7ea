import { AS_KNOWN, type Law } from './model.ts'
import { mustBePositive } from './power.ts'

/** Returns the law of a column that is one factor times a known function of what it stands against. */
export function oneFactorLaw(of: (place: number) => number, formula: Law['formula'], along: number): Law {
  const factor = { symbol: 'c', subscript: '', dimension: { value: 1, along } }
  return {
    parameters: [{ ...factor, name: 'factor' }],
    readings: [{ ...factor, key: 'factor', name: 'Factor', of: ([one]) => one }],
    formula,
    isThroughZero: true,
    linear: [0],
    ...AS_KNOWN,
    on: (places) => (own, values, jacobian) => {
      for (let i = 0; i < places.length; i++) {
        const one = of(places[i])
        values[i] = own[0] * one
        if (jacobian) jacobian[0][i] = one
      }
    },
    begin: (places) => {
      mustBePositive(places)
      return { starts: [[0]] }
    },
  }
}
