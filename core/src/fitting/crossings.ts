import { type AbscissaRange, curveSlopeAt } from './errorPropagation.ts'
import type { SolutionMember } from './fitSolution.ts'

/** Number of intervals in which a sign change is searched. */
const INTERVALS = 400

/** Returns the abscissas, within one length of the stretch on either side, at which a curve has the value `level`. */
export function crossings(
  valueAt: (place: number) => number,
  level: number,
  { from, to }: AbscissaRange,
): number[] {
  const span = to - from || 1
  const [first, step] = [from - span, (3 * span) / INTERVALS]
  const found: number[] = []
  let before = valueAt(first) - level
  for (let i = 1; i <= INTERVALS; i++) {
    const place = first + i * step
    const here = valueAt(place) - level
    if (before * here < 0) found.push(rootBetween((at) => valueAt(at) - level, place - step, place))
    else if (here === 0) found.push(place)
    before = here
  }
  return found
}

/** Returns the root of a function between two abscissas with values of opposite sign, by bisection. */
function rootBetween(of: (place: number) => number, low: number, high: number): number {
  let [a, b] = [low, high]
  const isUp = of(a) < 0
  for (let i = 0; i < 80 && b - a > 1e-15 * Math.abs(b); i++) {
    const middle = (a + b) / 2
    if (of(middle) < 0 === isUp) a = middle
    else b = middle
  }
  return (a + b) / 2
}

/** Returns the abscissa at which the curve with other parameters meets a level, by Newton's method from `near`. */
export function meeting(
  member: SolutionMember,
  at: ArrayLike<number>,
  level: number,
  near: number,
  range: AbscissaRange,
): number {
  let place = near
  for (let i = 0; i < 6; i++) {
    const slope = curveSlopeAt(member, at, place, range)
    if (slope === 0) break
    place -= (member.valuesAt(at, [place])[0] - level) / slope
  }
  return place
}
