import { type Evaluate, FitError } from '../../regression/index.ts'
import type { Beginning } from './model.ts'
import { strongestSwings } from './spectrum.ts'
import { spiralOn } from './spiral.ts'
import { scattered } from './starts.ts'

/** A swing that is shorter than a period, or has fewer points a period than this, is not determined by its points. */
const FEWEST = { periods: 1, points: 2.5 }
/** The engine may go a little beyond what counts as determined, so that noise at the edge does not stop it. */
const LEEWAY = 0.8
/** Frequencies that are looked at closely: the strongest swings, and those of few periods, in steps of so many cycles. */
const PEAKS = 5
const SLOW = { to: 3, step: 0.1 }
/** Lessenings over the whole stretch, as powers of e, that a damped swing is looked for with. */
const LESSENINGS = [0, 0.7, 2, 5]
/** Starts that are followed to the end: so many, as long as they leave no more than so many times what the best leaves. */
const STARTS = { most: 3, worse: 2 }

/** Parameters of a swing as the engine has them: c + (a·sin ωt + b·cos ωt)·e^(−γt). */
export function swingOn(isDamped: boolean) {
  return (places: ArrayLike<number>): Evaluate => {
    const n = places.length
    const spiral = spiralOn(places)
    const own = [new Float64Array(n), new Float64Array(n)]
    return (parameters, values, jacobian) => {
      const [c, a, b, omega, gamma = 0] = parameters
      const [bySin, byCos] = jacobian ? [jacobian[1], jacobian[2]] : own
      spiral(omega, gamma, bySin, byCos)
      for (let i = 0; i < n; i++) values[i] = c + a * bySin[i] + b * byCos[i]
      if (!jacobian) return
      const [first, , , byOmega, byGamma] = jacobian
      first.fill(1)
      for (let i = 0; i < n; i++) byOmega[i] = places[i] * (a * byCos[i] - b * bySin[i])
      if (isDamped) for (let i = 0; i < n; i++) byGamma[i] = -places[i] * (a * bySin[i] + b * byCos[i])
    }
  }
}

/**
 * Returns where a swing's fit begins: the frequencies at which the values swing most strongly, and all that go round only a few
 * times, are tried with their best offset and amplitude, and the best of them are to be followed.
 *
 * @param places growing, from their middle
 * @throws FitError where there are too few points, or all are at one place
 */
export function beginSwing(
  places: ArrayLike<number>,
  values: ArrayLike<number>,
  isDamped: boolean,
): Required<Beginning> {
  const n = places.length
  const p = isDamped ? 5 : 4
  if (n <= p) throw new FitError({ code: 'too-few-for-swing', isDamped, needed: p + 1, points: n })
  const span = places[n - 1] - places[0]
  if (!(span > 0)) throw new FitError({ code: 'one-time' })
  const highest = (n - 1) / FEWEST.points
  const turn = (2 * Math.PI) / span
  const some = scattered(places, values, MOST_RANKED)
  const lessenings = (isDamped ? LESSENINGS : [0]).map((lessening) => ({
    gamma: lessening / span,
    left: lessening === 0 ? null : Float64Array.from(some.places, (t) => Math.exp((-lessening / span) * t)),
  }))
  const tried: { omega: number; gamma: number; rss: number }[] = []
  const tryAt = (omega: number, turning: Turning) => {
    for (const { gamma, left } of lessenings)
      tried.push({ omega, gamma, rss: restOf(turning, left, some.values) })
  }
  for (const { cycles } of strongestSwings(places, values, highest, PEAKS))
    if (cycles >= LEEWAY) tryAt(cycles * turn, new Turning(some.places, cycles * turn))
  const [going, step] = [LEEWAY, SLOW.step].map((cycles) => new Turning(some.places, cycles * turn))
  for (let cycles = LEEWAY; cycles <= Math.min(SLOW.to + SLOW.step / 2, highest); cycles += SLOW.step) {
    tryAt(cycles * turn, going)
    going.goOn(step)
  }
  const started = tried
    .sort((a, b) => a.rss - b.rss)
    // Neighbours lead to the same place.
    .filter(
      ({ omega }, i, all) => !all.slice(0, i).some((other) => Math.abs(other.omega - omega) < 0.25 * turn),
    )
    .slice(0, STARTS.most)
    .filter(({ rss }, _, [first]) => rss <= STARTS.worse * first.rss)
  return {
    starts: started.map(({ omega, gamma }) => [0, 0, 0, omega, ...(isDamped ? [gamma] : [])]),
    lower: [...Array(3).fill(Number.NEGATIVE_INFINITY), LEEWAY * turn, ...(isDamped ? [-2 / span] : [])],
    upper: [...Array(3).fill(Number.POSITIVE_INFINITY), highest * turn, ...(isDamped ? [20 / span] : [])],
  }
}

/**
 * Refuses points that leave a swing of some angular frequency undetermined.
 * @throws FitError where they cover less than a period, or are fewer than 2.5 a period
 */
export function checkSwing(omega: number, places: ArrayLike<number>): void {
  const n = places.length
  const turn = (2 * Math.PI) / (places[n - 1] - places[0])
  if (omega < FEWEST.periods * turn) throw new FitError({ code: 'less-than-a-period' })
  if (omega >= ((n - 1) / FEWEST.points) * turn) throw new FitError({ code: 'too-few-points-a-period' })
}

/** Points that the places to begin are ranked by at most. */
const MOST_RANKED = 300

/** What a swing would be at some points: sine and cosine of ωt, and how one goes on from an ω to the next. */
class Turning {
  readonly sin: Float64Array
  readonly cos: Float64Array

  constructor(times: ArrayLike<number>, omega: number) {
    const n = times.length
    this.sin = new Float64Array(n)
    this.cos = new Float64Array(n)
    for (let i = 0; i < n; i++) {
      this.sin[i] = Math.sin(omega * times[i])
      this.cos[i] = Math.cos(omega * times[i])
    }
  }

  /** Goes on by another turning's ω. */
  goOn({ sin, cos }: Turning): void {
    const own = this.sin
    const beside = this.cos
    for (let i = 0; i < own.length; i++) {
      const s = own[i]
      const c = beside[i]
      own[i] = s * cos[i] + c * sin[i]
      beside[i] = c * cos[i] - s * sin[i]
    }
  }
}

/**
 * Returns what the best offset and amplitudes leave of values beside a swing that lessens, as the sum of squares, by normal
 * equations: a good start is all that is asked for, and orthogonal columns take half as long again.
 *
 * @param left share that is left of the swing at each point; null: all
 */
function restOf({ sin, cos }: Turning, left: Float64Array | null, values: ArrayLike<number>): number {
  const n = values.length
  let s = 0
  let c = 0
  let ss = 0
  let sc = 0
  let cc = 0
  let y = 0
  let ys = 0
  let yc = 0
  let yy = 0
  for (let i = 0; i < n; i++) {
    const share = left === null ? 1 : left[i]
    const a = share * sin[i]
    const b = share * cos[i]
    const value = values[i]
    s += a
    c += b
    ss += a * a
    sc += a * b
    cc += b * b
    y += value
    ys += value * a
    yc += value * b
    yy += value * value
  }
  // What is left of sine, cosine and values beside the offset.
  const [pss, psc, pcc] = [ss - (s * s) / n, sc - (s * c) / n, cc - (c * c) / n]
  const [pys, pyc, pyy] = [ys - (y * s) / n, yc - (y * c) / n, yy - (y * y) / n]
  const determinant = pss * pcc - psc * psc
  if (!(determinant > 1e-12 * pss * pcc)) return pyy
  return pyy - (pys * (pys * pcc - pyc * psc) + pyc * (pyc * pss - pys * psc)) / determinant
}
