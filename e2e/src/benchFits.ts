import { fitPoints, MODELS, PLAIN } from '@apokinema/core/fitting'
import { normalSource, randomSource } from '@apokinema/core/random'
import { fitNonlinear } from '@apokinema/core/regression'
import { levenbergMarquardt } from 'ml-levenberg-marquardt'

/** How fast and how exact nonlinear fits are, beside a well-known package, for `npm run bench -- fits`. */

type Note = (what: string, value: string) => void

interface Case {
  id: keyof typeof MODELS
  points: number
  truth: number[]
  start: number[]
  /** The law at a time, and its slopes by each of its own parameters, as the package asks for them. */
  at: (p: number[], t: number) => number
  slopes: (p: number[], t: number) => number[]
}

const CASES: Case[] = [
  {
    id: 'exponential',
    points: 200,
    truth: [1.3, 2.2],
    start: [1, 1],
    at: ([size, rate], t) => size * Math.exp(-rate * t),
    slopes: ([size, rate], t) => {
      const left = Math.exp(-rate * t)
      return [left, -t * size * left]
    },
  },
  {
    id: 'settling',
    points: 200,
    truth: [0.4, -1.3, 2.7],
    start: [0, -1, 1],
    at: ([limit, size, rate], t) => limit + size * Math.exp(-rate * t),
    slopes: ([, size, rate], t) => {
      const left = Math.exp(-rate * t)
      return [1, left, -t * size * left]
    },
  },
  {
    id: 'logistic',
    points: 100,
    truth: [3, 0.25, 0.6],
    start: [2, 0.4, 0.8],
    at: ([limit, time, middle], t) => limit / (1 + Math.exp(-(t - middle) / time)),
    slopes: ([limit, time, middle], t) => {
      const u = (t - middle) / time
      const share = 1 / (1 + Math.exp(-u))
      const steep = (limit * share * (1 - share)) / time
      return [share, -u * steep, -steep]
    },
  },
  {
    id: 'swing',
    points: 600,
    truth: [0.2, 1.1, -0.4, 7.3],
    start: [0, 1, 0, 7],
    at: ([c, a, b, omega], t) => c + a * Math.sin(omega * t) + b * Math.cos(omega * t),
    slopes: ([, a, b, omega], t) => {
      const sin = Math.sin(omega * t)
      const cos = Math.cos(omega * t)
      return [1, sin, cos, t * (a * cos - b * sin)]
    },
  },
  {
    id: 'damped-swing',
    points: 600,
    truth: [0.2, 1.1, -0.4, 7.3, 0.5],
    start: [0, 1, 0, 7, 0.1],
    at: ([c, a, b, omega, gamma], t) =>
      c + Math.exp(-gamma * t) * (a * Math.sin(omega * t) + b * Math.cos(omega * t)),
    slopes: ([, a, b, omega, gamma], t) => {
      const left = Math.exp(-gamma * t)
      const sin = left * Math.sin(omega * t)
      const cos = left * Math.cos(omega * t)
      return [1, sin, cos, t * (a * cos - b * sin), -t * (a * sin + b * cos)]
    },
  },
  {
    id: 'gaussian',
    points: 200,
    truth: [0.1, 2, 1.1, 0.3],
    start: [0, 1.5, 1, 0.4],
    at: ([ground, size, middle, width], t) => ground + size * Math.exp(-(((t - middle) / width) ** 2) / 2),
    slopes: ([, size, middle, width], t) => {
      const u = (t - middle) / width
      const bell = Math.exp((-u * u) / 2)
      return [1, bell, (size * bell * u) / width, (size * bell * u * u) / width]
    },
  },
]

/** What double precision holds. */
const MOST_DIGITS = 15

/** Returns the least number of right digits among some parameters. */
const digits = (found: number[], truth: number[]) =>
  Math.min(MOST_DIGITS, ...truth.map((one, k) => -Math.log10(Math.abs(found[k] / one - 1))))

/**
 * In how many digits the residuals are at right angles to the slopes, as they are at the least sum of squares: what is
 * right of parameters, in their errors, where nobody knows the true ones.
 */
function levelDigits({ at, slopes }: Case, found: number[], t: number[], y: number[]): number {
  const rest = t.map((time, i) => y[i] - at(found, time))
  const rows = t.map((time) => slopes(found, time))
  const length = (column: number[]) => Math.hypot(...column)
  return Math.min(
    MOST_DIGITS,
    ...found.map((_, k) => {
      const column = rows.map((row) => row[k])
      const along = column.reduce((sum, one, i) => sum + one * rest[i], 0)
      return -Math.log10(Math.abs(along) / (length(column) * length(rest)))
    }),
  )
}

/** Milliseconds within which engines have compiled what is run again and again. */
const WARM = 300

/** Returns the milliseconds that each of some things takes once it is warm, one after the other again and again. */
function timesOf(...acts: (() => unknown)[]): number[] {
  for (const act of acts) for (const began = performance.now(); performance.now() - began < WARM; ) act()
  const took = acts.map((): number[] => [])
  for (let repeat = 0; repeat < 40; repeat++)
    acts.forEach((act, k) => {
      const began = performance.now()
      act()
      took[k].push(performance.now() - began)
    })
  return took.map((all) => all.sort((a, b) => a - b)[20])
}

export function benchFits(note: Note): void {
  const noise = normalSource(randomSource(8))
  for (const one of CASES) {
    const { id, points, truth, start, at, slopes } = one
    const t = Array.from({ length: points }, (_, i) => (2 * i) / (points - 1))
    const places = Float64Array.from(t)
    const exact = t.map((time) => at(truth, time))
    const scattered = exact.map((value) => value + 0.02 * noise())
    const { on, linear } = MODELS[id].law({ ...PLAIN, order: 0 })!
    const compare = (what: string, y: number[], rightDigits: (found: number[]) => number, more: object) => {
      const values = Float64Array.from(y)
      const own = () => [...fitNonlinear({ y: values, evaluate: on(places), start, linear }).parameters]
      const other = () =>
        levenbergMarquardt({ x: t, y }, (p) => (time) => at(p, time), {
          initialValues: start,
          ...more,
          jacobianFunction: (p: number[]) => (time: number) => slopes(p, time),
        }).parameterValues
      const [ownTook, otherTook] = timesOf(own, other)
      const told = (found: number[]) => `${rightDigits(found).toFixed(1)} digits`
      note(
        `${MODELS[id].name}, ${points} ${what} points: own engine`,
        `${ownTook.toFixed(2)} ms, ${told(own())}`,
      )
      note(
        '… the package beside it',
        `${otherTook.toFixed(2)} ms (${(otherTook / ownTook).toFixed(1)} times), ${told(other())}`,
      )
    }
    compare('exact', exact, (found) => digits(found, truth), { maxIterations: 200, errorTolerance: 1e-24 })
    // What measured points leave can't be told beforehand: the package then ends with its last iteration.
    compare('scattered', scattered, (found) => levelDigits(one, found, t, scattered), {})
  }
  const times = Float64Array.from({ length: 600 }, (_, i) => i / 60)
  const values = times.map((time) => 0.3 + Math.sin(5.1 * time + 1) + 0.03 * noise())
  const law = MODELS.swing.law({ ...PLAIN, order: 0 })!
  const [took] = timesOf(() => fitPoints(law, times, values))
  note('a swing through 600 noisy points, from its own start', `${took.toFixed(2)} ms`)
}
