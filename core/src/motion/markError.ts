import type { Point } from '../geometry/index.ts'
import type { Body, Investigation } from '../investigation/index.ts'
import { MAD_TO_DEVIATION, median } from '../time/index.ts'
import { clockOf } from './clockOf.ts'

/** What a careful hand misses the same spot by, in pixels, as long as there are too few marks to tell. */
const USUAL_ERROR = 0.5
/** Marks are kept to the quarter pixel that keys move them by. */
const FINEST_ERROR = 0.1

const framesOf = ({ marks }: Body) =>
  Object.keys(marks)
    .map(Number)
    .sort((a, b) => a - b)

/**
 * Standard error of a body's marks along one direction, in pixels, estimated from the marks themselves:
 * from how far each four neighbours are from a parabola (their third divided difference, scaled so that
 * its variance is that of one mark), robustly, so that neither the motion nor a stray mark counts.
 * The idea of pseudo-residuals is from Gasser, Sroka and Jennen-Steinmetz, Biometrika 73 (1986) 625.
 */
export function markErrorOf(body: Body): number {
  const frames = framesOf(body)
  if (frames.length < 6) return USUAL_ERROR
  const sizes: number[] = []
  for (let i = 0; i + 3 < frames.length; i++) {
    const four = frames.slice(i, i + 4)
    const weights = four.map((at) =>
      four.reduce((product, other) => (other === at ? product : product / (at - other)), 1),
    )
    const size = Math.hypot(...weights)
    for (const along of ['x', 'y'] as const)
      sizes.push(Math.abs(four.reduce((sum, at, k) => sum + weights[k] * body.marks[at][along], 0)) / size)
  }
  return Math.max(FINEST_ERROR, MAD_TO_DEVIATION * median(sizes))
}

/**
 * How far a body moves from one frame to the next, in pixels, around any frame between its first and
 * last mark; null beyond them.
 */
export function speedPerFrame(body: Body): (frame: number) => number | null {
  const frames = framesOf(body)
  const [first] = frames
  const speeds = new Float64Array(frames.length > 1 ? frames.at(-1)! - first + 1 : 0)
  frames.slice(1).forEach((after, i) => {
    const before = frames[i]
    const [a, b] = [body.marks[before], body.marks[after]]
    const speed = Math.hypot(b.x - a.x, b.y - a.y) / (after - before)
    speeds.fill(speed, i === 0 ? 0 : before - first + 1, after - first + 1)
  })
  return (frame) => speeds[frame - first] ?? null
}

/**
 * Velocity of a body in the picture around a frame, in pixels per real second, from the two marks that
 * stand nearest on either side; null where there are not two within the body's marks.
 */
export function pictureVelocity(investigation: Investigation, bodyId: string, frame: number): Point | null {
  const clock = clockOf(investigation)
  const body = investigation.bodies[bodyId]
  if (!clock || !body) return null
  const frames = framesOf(body)
  const before = frames.findLast((at) => at < frame) ?? frames.find((at) => at === frame)
  const after = frames.find((at) => at > frame) ?? frames.find((at) => at === frame)
  if (before === undefined || after === undefined || before === after) return null
  const seconds = clock.seconds[after] - clock.seconds[before]
  const [a, b] = [body.marks[before], body.marks[after]]
  return seconds > 0 ? { x: (b.x - a.x) / seconds, y: (b.y - a.y) / seconds } : null
}
