import type { Point } from '../../geometry/index.ts'
import { dimension, type PathQuantity } from './quantity.ts'

export const pathLength: PathQuantity = {
  kind: 'path',
  id: 'path',
  symbol: 'ℓ',
  subscript: '',
  name: 'Path length',
  dimension: dimension({ length: 1 }),
  direction: 'size',
  needs: [],
}

/** Deviations by which a place must be away from the last corner of the path to be a new one. */
const CORNER = 6

/** A step lacks dφ²/24; as much again is reckoned for what the corners do not show of its bend. */
const BEND = 12

/** One stretch of a path: from a corner to a place, with the unit vector between them. */
export interface PathStep {
  /** The corner that it begins at; its own number is that of the place that it ends at. */
  from: number
  along: Point
}

/**
 * Lengths of the path to each of some places. Its corners are places that are clearly away from the corner before,
 * so that errors of places do not add up where a body is slow or rests; each step that is d long is taken for
 * s²/2d shorter, which is what errors of variance s² across it add on the average (Rice, Bell System Technical
 * Journal 24 (1945) 46, for d far above s).
 *
 * @param variances of each place along either direction
 * @returns with a bound on how much longer the path is by its bends between the corners: a step of length d in which
 *   it turns by φ lacks dφ²/24, and φ is at most about what the corners on either side turn by
 */
export function pathThrough(
  places: readonly Point[],
  variances: readonly number[],
): { lengths: number[]; steps: PathStep[]; bends: number[] } {
  const lengths: number[] = []
  const bends: number[] = []
  const steps: PathStep[] = []
  let corner = 0
  places.forEach((place, i) => {
    const from = places[corner]
    const [dx, dy] = [place.x - from.x, place.y - from.y]
    const seen = Math.hypot(dx, dy)
    const variance = variances[i] + variances[corner]
    const isCorner = i > 0 && seen > CORNER * Math.sqrt(variance)
    const longer = isCorner ? variance / (2 * seen) : seen - Math.sqrt(Math.max(0, seen * seen - variance))
    lengths.push(i === 0 ? 0 : lengths[corner] + seen - longer)
    steps.push({ from: corner, along: seen > 0 ? { x: dx / seen, y: dy / seen } : { x: 0, y: 0 } })
    if (isCorner) corner = i
  })
  const turns = turnsOf(steps)
  steps.forEach(({ from }, i) => {
    const turn = Math.max(turns.get(from) ?? 0, turns.get(i) ?? 0)
    bends.push(i === 0 ? 0 : bends[from] + ((lengths[i] - lengths[from]) * turn ** 2) / BEND)
  })
  return { lengths, steps, bends }
}

/** Returns by how much the path turns at each of its corners. */
function turnsOf(steps: readonly PathStep[]): Map<number, number> {
  const turns = new Map<number, number>()
  steps.forEach(({ from, along }) => {
    if (from === 0) return
    const before = steps[from].along
    const turn = Math.abs(
      Math.atan2(before.x * along.y - before.y * along.x, before.x * along.x + before.y * along.y),
    )
    // Of all steps that begin at a corner, the last one goes to the next corner.
    turns.set(from, turn)
  })
  return turns
}
