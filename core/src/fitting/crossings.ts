import type { SolvedMember } from './solve.ts'
import { slopeOf, type Where } from './told.ts'

/** Places at which a curve is looked at to find where it meets a level. */
const LOOKED_AT = 400

/** Places around a stretch at which a curve has a value. */
export function crossings(valueAt: (place: number) => number, level: number, { from, to }: Where): number[] {
  const span = to - from || 1
  const [first, step] = [from - span, (3 * span) / LOOKED_AT]
  const found: number[] = []
  let before = valueAt(first) - level
  for (let i = 1; i <= LOOKED_AT; i++) {
    const place = first + i * step
    const here = valueAt(place) - level
    if (before * here < 0) found.push(rootBetween((at) => valueAt(at) - level, place - step, place))
    else if (here === 0) found.push(place)
    before = here
  }
  return found
}

/** Where a function changes its sign between two places, by halving. */
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

/** Where the curve of other parameters meets a level, near where it did before: by Newton's steps. */
export function meeting(
  member: SolvedMember,
  at: ArrayLike<number>,
  level: number,
  near: number,
  where: Where,
): number {
  let place = near
  for (let i = 0; i < 6; i++) {
    const slope = slopeOf(member, at, place, where)
    if (slope === 0) break
    place -= (member.valuesAt(at, [place])[0] - level) / slope
  }
  return place
}
