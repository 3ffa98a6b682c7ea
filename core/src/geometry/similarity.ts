import type { Point } from './points.ts'
import type { Step } from './step.ts'

/** Rotation, scale and translation: x′ = a x − b y + x₀, y′ = b x + a y + y₀. */
export interface Similarity {
  a: number
  b: number
  x: number
  y: number
}

/** The identity. */
export const UNMOVED: Similarity = { a: 1, b: 0, x: 0, y: 0 }

/** Returns the scale factor of a similarity. */
export function zoomOf({ a, b }: Similarity): number {
  return Math.hypot(a, b)
}

/** Returns the rotation angle of a similarity, in radians from +x towards +y of the plane's own coordinates. */
export function turnOf({ a, b }: Similarity): number {
  return Math.atan2(b, a)
}

/** Returns the composition of two similarities: `first`, then `then`. */
export function followedBy(first: Similarity, then: Similarity): Similarity {
  return {
    a: then.a * first.a - then.b * first.b,
    b: then.b * first.a + then.a * first.b,
    x: then.a * first.x - then.b * first.y + then.x,
    y: then.b * first.x + then.a * first.y + then.y,
  }
}

export function similarityStep({ a, b, x, y }: Similarity): Step {
  const square = a * a + b * b
  return {
    forward: (p) => ({ x: a * p.x - b * p.y + x, y: b * p.x + a * p.y + y }),
    backward: (p) => {
      const [dx, dy] = [p.x - x, p.y - y]
      return { x: (a * dx + b * dy) / square, y: (a * dy - b * dx) / square }
    },
    jacobian: () => [
      [a, -b],
      [b, a],
    ],
  }
}

/** What a camera did: panned, also zoomed, or also rolled. */
export type CameraMotion = 'turned' | 'zoomed' | 'tilted'

/** Number of points that determine each kind of camera motion. */
export const POINTS_NEEDED: Record<CameraMotion, number> = { turned: 1, zoomed: 2, tilted: 2 }

/**
 * Returns the similarity of least squares that takes points to others: a shift alone, a shift and a change of
 * size, or all of it (Umeyama, IEEE Transactions on Pattern Analysis and Machine Intelligence 13, 1991).
 * Null with too few points, or where all of them coincide.
 */
export function fitSimilarity(from: Point[], to: Point[], motion: CameraMotion): Similarity | null {
  const n = Math.min(from.length, to.length)
  if (n < POINTS_NEEDED[motion]) return null
  const mean = (points: Point[], axis: 'x' | 'y') => points.reduce((sum, p) => sum + p[axis], 0) / n
  const [fx, fy, tx, ty] = [mean(from, 'x'), mean(from, 'y'), mean(to, 'x'), mean(to, 'y')]
  let [a, b] = [1, 0]
  if (motion !== 'turned') {
    let [spread, along, across] = [0, 0, 0]
    for (let i = 0; i < n; i++) {
      const [ux, uy] = [from[i].x - fx, from[i].y - fy]
      const [vx, vy] = [to[i].x - tx, to[i].y - ty]
      spread += ux * ux + uy * uy
      along += ux * vx + uy * vy
      across += ux * vy - uy * vx
    }
    // Two landmarks within two pixels of each other say nothing of zoom.
    if (!(spread > 2)) return null
    a = along / spread
    b = motion === 'tilted' ? across / spread : 0
    if (!(Math.hypot(a, b) > 1e-6) || (motion === 'zoomed' && a <= 0)) return null
  }
  return { a, b, x: tx - a * fx + b * fy, y: ty - b * fx - a * fy }
}
