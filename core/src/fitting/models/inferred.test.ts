import { describe, expect, it } from 'vitest'
import { readFreeForm } from './freeForm.ts'
import { inferredDimensions } from './inferred.ts'

const inferred = (text: string) => {
  const { parameters } = readFreeForm(text, 't')
  const found = inferredDimensions(text, 't', parameters)
  return Object.fromEntries(parameters.map((name, k) => [name, found[k] && [found[k].value, found[k].along]]))
}

describe('what the parameters of a free form are measured in', () => {
  it.each<[string, Record<string, [number, number] | null>]>([
    ['a + b*t', { a: [1, 0], b: [1, -1] }],
    ['h + u*t + k*t^2', { h: [1, 0], u: [1, -1], k: [1, -2] }],
    ['c + a*exp(-t/tau)*sin(w*t + p)', { c: [1, 0], a: [1, 0], tau: [0, 1], w: [0, -1], p: [0, 0] }],
    ['sqrt(k*t)', { k: [2, -1] }],
    ['v*tau*log(cosh((t-s)/tau))', { v: [1, -1], tau: [0, 1], s: [0, 1] }],
    // What has a dimension is raised to no unknown power.
    ['c*t^p', { c: null, p: null }],
    ['hypot(a, b*t)', { a: [1, 0], b: [1, -1] }],
    ['a*t^(-1/2)', { a: [1, 0.5] }],
    // A product of which only the whole is told.
    ['a*b*t', { a: null, b: null }],
    // A time and a pure number can't be added.
    ['a*(t + exp(t))', { a: null }],
  ])('%s', (text, expected) => {
    expect(inferred(text)).toEqual(expected)
  })
})
