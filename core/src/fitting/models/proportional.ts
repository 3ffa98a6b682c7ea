import { term } from './formula.ts'
import { AS_KNOWN, type Model } from './model.ts'

/** Proportional: x = vt, through zero. */
export const proportional: Model = {
  id: 'proportional',
  name: 'Proportional',
  group: 'uniform',
  law: ({ order, isAngle }) => {
    if (order === 2) return null
    const [symbol, name] =
      order === null
        ? ['k', 'Factor']
        : order === 0
          ? [isAngle ? 'ω' : 'v', isAngle ? 'Angular velocity' : 'Velocity']
          : [isAngle ? 'α' : 'a', isAngle ? 'Angular acceleration' : 'Acceleration']
    const what = { symbol, subscript: '', dimension: { value: 1, along: -1 } }
    return {
      parameters: [{ ...what, name: name.toLowerCase() }],
      readings: [{ ...what, key: 'factor', name, of: ([factor]) => factor }],
      formula: ([factor], along) => term(factor, along),
      isThroughZero: true,
      linear: [0],
      ...AS_KNOWN,
      on: (places) => (own, values, jacobian) => {
        for (let i = 0; i < places.length; i++) {
          values[i] = own[0] * places[i]
          if (jacobian) jacobian[0][i] = places[i]
        }
      },
      begin: () => ({ starts: [[0]] }),
    }
  },
}
