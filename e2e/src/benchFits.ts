import { MODELS, PLAIN, solvePoints } from '@apokinema/core/fitting'
import { randomSource } from '@apokinema/core/random'
import { type Evaluate, fitNonlinear, linearParameters } from '@apokinema/core/regression'
import { levenbergMarquardt } from 'ml-levenberg-marquardt'

/** How fast and how exact nonlinear fits are, beside a well-known package, for `npm run bench -- fits`. */

type Note = (what: string, value: string) => void

type Parameters = number[] | Float64Array

interface Case {
  name: string
  points: number
  truth: number[]
  start: number[]
  /** The model at a time, and its slopes by each parameter, as the package asks for them. */
  at: (p: Parameters, t: number) => number
  slopes: (p: Parameters, t: number) => number[]
  /** The same as the own engine asks for it: all points at once, and what values and slopes have in common only once. */
  on: (t: number[]) => Evaluate
}

const CASES: Case[] = [
  {
    name: 'approach to a limit',
    points: 200,
    truth: [0.4, -1.3, 0.37],
    start: [0, -1, 1],
    at: ([c, size, slow], t) => c + size * Math.exp(-t / slow),
    slopes: ([, size, slow], t) => {
      const left = Math.exp(-t / slow)
      return [1, left, (size * left * t) / slow ** 2]
    },
    on:
      (t) =>
      ([c, size, slow], values, columns) => {
        for (let i = 0; i < t.length; i++) {
          const left = Math.exp(-t[i] / slow)
          values[i] = c + size * left
          if (!columns) continue
          columns[0][i] = 1
          columns[1][i] = left
          columns[2][i] = (size * left * t[i]) / (slow * slow)
        }
      },
  },
  {
    name: 'swing',
    points: 600,
    truth: [0.2, 1.1, -0.4, 7.3],
    start: [0, 1, 0, 7],
    at: ([c, a, b, omega], t) => c + a * Math.sin(omega * t) + b * Math.cos(omega * t),
    slopes: ([, a, b, omega], t) => {
      const [sin, cos] = [Math.sin(omega * t), Math.cos(omega * t)]
      return [1, sin, cos, t * (a * cos - b * sin)]
    },
    on:
      (t) =>
      ([c, a, b, omega], values, columns) => {
        for (let i = 0; i < t.length; i++) {
          const [sin, cos] = [Math.sin(omega * t[i]), Math.cos(omega * t[i])]
          values[i] = c + a * sin + b * cos
          if (!columns) continue
          columns[0][i] = 1
          columns[1][i] = sin
          columns[2][i] = cos
          columns[3][i] = t[i] * (a * cos - b * sin)
        }
      },
  },
  {
    name: 'logistic growth',
    points: 100,
    truth: [3, 2.4, 4.1],
    start: [2, 2, 3],
    at: ([size, late, steep], t) => size / (1 + Math.exp(late - steep * t)),
    slopes: ([size, late, steep], t) => {
      const grown = Math.exp(late - steep * t)
      const under = 1 + grown
      return [1 / under, (-size * grown) / under ** 2, (size * grown * t) / under ** 2]
    },
    on:
      (t) =>
      ([size, late, steep], values, columns) => {
        for (let i = 0; i < t.length; i++) {
          const grown = Math.exp(late - steep * t[i])
          const under = 1 + grown
          values[i] = size / under
          if (!columns) continue
          columns[0][i] = 1 / under
          columns[1][i] = (-size * grown) / (under * under)
          columns[2][i] = -t[i] * columns[1][i]
        }
      },
  },
]

/** The least number of right digits among some parameters. */
const digits = (found: ArrayLike<number>, truth: number[]) =>
  Math.min(...truth.map((one, k) => (found[k] === one ? 15.9 : -Math.log10(Math.abs(found[k] / one - 1)))))

/** Milliseconds that something takes once it is warm. */
function timeOf(act: () => unknown): number {
  const took: number[] = []
  for (let repeat = 0; repeat < 40; repeat++) {
    const began = performance.now()
    act()
    took.push(performance.now() - began)
  }
  return took.slice(10).sort((a, b) => a - b)[15]
}

export function benchFits(note: Note): void {
  for (const { name, points, truth, start, at, slopes, on } of CASES) {
    const t = Array.from({ length: points }, (_, i) => (2 * i) / (points - 1))
    const y = t.map((time) => at(truth, time))
    const evaluate = on(t)
    const linear = linearParameters(evaluate, start, points)
    const own = () => fitNonlinear({ y, evaluate, start, linear })
    const other = () =>
      levenbergMarquardt({ x: t, y }, (p) => (time) => at(p, time), {
        ...{ initialValues: start, maxIterations: 200, errorTolerance: 1e-24 },
        jacobianFunction: (p: number[]) => (time: number) => slopes(p, time),
      })
    const [ownTook, otherTook] = [timeOf(own), timeOf(other)]
    note(
      `${name}, ${points} exact points: own engine`,
      `${ownTook.toFixed(2)} ms, ${digits(own().parameters, truth).toFixed(1)} digits`,
    )
    note(
      '… the package beside it',
      `${otherTook.toFixed(2)} ms (${(otherTook / ownTook).toFixed(0)} times), ${digits(other().parameterValues, truth).toFixed(1)} digits`,
    )
  }
  const random = randomSource(8)
  const times = Float64Array.from({ length: 600 }, (_, i) => i / 60)
  const values = times.map((time) => 0.3 + Math.sin(5.1 * time + 1) + 0.1 * (random() - 0.5))
  const law = MODELS.swing.law({ ...PLAIN, order: 0 })!
  note(
    'a swing through 600 noisy points, from its own start',
    `${timeOf(() => solvePoints(law, times, values)).toFixed(2)} ms`,
  )
}
