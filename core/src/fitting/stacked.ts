import type { Evaluate, Whiten } from '../regression/index.ts'
import type { Law } from './models/index.ts'
import type { FitSample } from './sample.ts'

/** A law and the points that it is fitted to. */
export interface Member {
  law: Law
  sample: FitSample
}

/**
 * Returns the evaluation of several laws one after the other, with shared parameters.
 *
 * @param indices index of each law's parameters among all
 * @param offsets index of each law's first point among all; `sizes` their number
 */
export function stackedEvaluate(
  evaluates: readonly Evaluate[],
  indices: readonly (readonly number[])[],
  offsets: readonly number[],
  sizes: readonly number[],
): Evaluate {
  if (evaluates.length === 1) return evaluates[0]
  return (parameters, values, jacobian) => {
    for (const column of jacobian ?? []) column.fill(0)
    evaluates.forEach((evaluate, m) => {
      const section = (all: Float64Array) => all.subarray(offsets[m], offsets[m] + sizes[m])
      evaluate(
        Float64Array.from(indices[m], (place) => parameters[place]),
        section(values),
        jacobian && indices[m].map((place) => section(jacobian[place])),
      )
    })
  }
}

/** Returns the whitening of several independent columns one after the other; null if none has one. */
export function stackedWhiten(
  members: readonly Member[],
  offsets: readonly number[],
  sizes: readonly number[],
  points: number,
): Whiten | null {
  if (members.length === 1) return members[0].sample.whiten
  if (members.every(({ sample }) => !sample.whiten)) return null
  const section = (values: Float64Array, m: number) => values.slice(offsets[m], offsets[m] + sizes[m])
  const whiten = (values: Float64Array) => {
    const white = new Float64Array(points)
    members.forEach(({ sample }, m) => {
      const own = section(values, m)
      white.set(sample.whiten ? sample.whiten(own) : own, offsets[m])
    })
    return white
  }
  const transposed = (weights: Float64Array) => {
    const values = new Float64Array(points)
    members.forEach(({ sample }, m) => {
      const own = section(weights, m)
      values.set(sample.whiten ? sample.whiten.transposed(own) : own, offsets[m])
    })
    return values
  }
  return Object.assign(whiten, {
    rank: members.reduce((sum, { sample }, m) => sum + (sample.whiten?.rank ?? sizes[m]), 0),
    transposed,
  })
}

/** Returns the indices of parameters in which every law that has them is linear. */
export function stackedLinear(members: readonly Member[], indices: readonly (readonly number[])[]): number[] {
  const others = new Set(
    members.flatMap(({ law }, m) => indices[m].filter((_, k) => !law.linear.includes(k))),
  )
  return [...new Set(indices.flat())].filter((place) => !others.has(place))
}
