import { fitPoints, MODELS, PLAIN } from '../fitting/index.ts'

/** A nonlinear fit whose results are published: parameters b1, b2 … with their standard errors, and two starts. */
export interface PublishedFit {
  name: string
  /** As an expression in x. */
  model: string
  x: number[]
  y: number[]
  starts: [number[], number[]]
  parameters: number[]
  errors: number[]
  rss: number
}

/** Numbers that stand in a text. */
export const list = (text: string) => text.trim().split(/\s+/).map(Number)

/** Numbers that stand by turns in a text: y and x. */
export function pairs(text: string): Pick<PublishedFit, 'x' | 'y'> {
  const all = list(text)
  return { y: all.filter((_, i) => i % 2 === 0), x: all.filter((_, i) => i % 2 === 1) }
}

/** Returns the values that stand in a text, at 1, 2, 3 … */
export function oneByOne(text: string): Pick<PublishedFit, 'x' | 'y'> {
  const y = list(text)
  return { y, x: y.map((_, i) => i + 1) }
}

/** Number of right digits. */
export const digits = (value: number, certified: number) =>
  value === certified ? 15 : -Math.log10(Math.abs(value - certified) / Math.abs(certified))

/** Returns the fit as somebody would write it, from one of the published starts: its sum of squares, and the least number of right digits. */
export function rightDigits(
  { model, x, y, starts, parameters, errors, rss }: PublishedFit,
  which: number,
): { rss: number; digits: { parameters: number; errors: number; rss: number } } {
  const start = Object.fromEntries(starts[which].map((value, k) => [`b${k + 1}`, value]))
  const law = MODELS['free-form'].law({ ...PLAIN, variable: 'x', expression: model, start })!
  const fit = fitPoints(law, Float64Array.from(x), Float64Array.from(y))
  const places = law.parameters.map(({ name }) => Number(name.slice(1)) - 1)
  if (
    [...places].sort((a, b) => a - b).some((place, k) => place !== k) ||
    places.length !== parameters.length
  )
    throw new Error('The expression has other parameters than are published.')
  return {
    rss: fit.rss,
    digits: {
      parameters: Math.min(...places.map((k, i) => digits(fit.parameters[i], parameters[k]))),
      errors: Math.min(...places.map((k, i) => digits(Math.sqrt(fit.covariance[i][i]), errors[k]))),
      rss: digits(fit.rss, rss),
    },
  }
}
