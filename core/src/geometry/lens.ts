import { distance, type Point } from './points.ts'
import { inverse, type Matrix2, type Step } from './step.ts'

interface Size {
  width: number
  height: number
}

/** A lens's coefficient found from straight edges, with its standard error. */
export interface LensFit {
  k1: number
  error: number
  /** Root mean square distance of the points from their straight lines, before and after, in pixels. */
  before: number
  after: number
}

/** Coefficients beyond these fold the picture at its corners, or belong to no lens. */
export const LENS_LIMITS = { least: -0.3, most: 0.5 }

const middleOf = ({ width, height }: Size): Point => ({ x: width / 2, y: height / 2 })

/**
 * Removes lens distortion: what a lens without distortion would show at r from the middle of the
 * picture is seen at r (1 + k₁r²), with r in units of half the picture's diagonal (the first radial term
 * of Brown, Photogrammetric Engineering 32, 1966). k₁ < 0 bulges outwards like a barrel.
 *
 * @throws RangeError for a k₁ outside of LENS_LIMITS
 */
export function lensStep(k1: number, size: Size): Step {
  if (!(k1 >= LENS_LIMITS.least && k1 <= LENS_LIMITS.most))
    throw new RangeError(`A lens coefficient is from ${LENS_LIMITS.least} to ${LENS_LIMITS.most}, not ${k1}.`)
  const middle = middleOf(size)
  const unit = Math.hypot(size.width, size.height) / 2

  const distort = ({ x, y }: Point): Point => {
    const [dx, dy] = [(x - middle.x) / unit, (y - middle.y) / unit]
    const by = 1 + k1 * (dx * dx + dy * dy)
    return { x: middle.x + unit * dx * by, y: middle.y + unit * dy * by }
  }
  /** Solves r (1 + k₁r²) = seen by Newton's method; where that has no solution the fold itself is given. */
  const radius = (seen: number): number => {
    const fold = k1 < 0 ? Math.sqrt(-1 / (3 * k1)) : Number.POSITIVE_INFINITY
    // There 1 + k₁r² is ⅔.
    if (seen >= (2 / 3) * fold) return fold
    let r = seen
    for (let i = 0; i < 50; i++) {
      const next = Math.min(fold, r - (r * (1 + k1 * r * r) - seen) / (1 + 3 * k1 * r * r))
      if (Math.abs(next - r) <= 1e-15 * Math.max(1, r)) return next
      r = next
    }
    return r
  }
  const flatten = ({ x, y }: Point): Point => {
    const [dx, dy] = [(x - middle.x) / unit, (y - middle.y) / unit]
    const seen = Math.hypot(dx, dy)
    if (seen === 0) return { x, y }
    const by = radius(seen) / seen
    return { x: middle.x + unit * dx * by, y: middle.y + unit * dy * by }
  }
  const distortionJacobian = ({ x, y }: Point): Matrix2 => {
    const [dx, dy] = [(x - middle.x) / unit, (y - middle.y) / unit]
    const by = 1 + k1 * (dx * dx + dy * dy)
    return [
      [by + 2 * k1 * dx * dx, 2 * k1 * dx * dy],
      [2 * k1 * dx * dy, by + 2 * k1 * dy * dy],
    ]
  }
  return {
    forward: flatten,
    backward: distort,
    jacobian: (point) => inverse(distortionJacobian(flatten(point))),
  }
}

/** Sum of squared distances of points from their straight line of least squares (total least squares). */
function offLine(points: Point[]): number {
  const n = points.length
  const [mx, my] = [points.reduce((s, p) => s + p.x, 0) / n, points.reduce((s, p) => s + p.y, 0) / n]
  let [xx, xy, yy] = [0, 0, 0]
  for (const { x, y } of points) {
    xx += (x - mx) ** 2
    xy += (x - mx) * (y - my)
    yy += (y - my) ** 2
  }
  // The smaller eigenvalue of the scatter matrix.
  return Math.max(0, (xx + yy - Math.hypot(xx - yy, 2 * xy)) / 2)
}

/**
 * Returns the lens coefficient that makes edges straight which are straight in reality: least sum of squared
 * distances from a line of its own each (the plumb-line method: Brown, Photogrammetric Engineering 37,
 * 1971). Each edge is at least three points along it. Null where the points can't tell: too few, or all
 * edges run through the middle of the picture, where distortion bends nothing.
 *
 * @param placing standard error of a point along each direction, in pixels, where there are no points to spare
 */
export function fitLens(edges: Point[][], size: Size, placing = 0.5): LensFit | null {
  const usable = edges.filter((edge) => edge.length >= 3 && distance(edge[0], edge[edge.length - 1]) > 20)
  if (usable.length === 0) return null
  const points = usable.reduce((sum, edge) => sum + edge.length, 0)
  const cost = (k1: number) => {
    const step = lensStep(k1, size)
    return usable.reduce((sum, edge) => sum + offLine(edge.map(step.forward)), 0)
  }
  let [low, high] = [LENS_LIMITS.least, LENS_LIMITS.most]
  const golden = (Math.sqrt(5) - 1) / 2
  while (high - low > 1e-7) {
    const [a, b] = [high - golden * (high - low), low + golden * (high - low)]
    if (cost(a) < cost(b)) high = b
    else low = a
  }
  const k1 = (low + high) / 2
  const h = 1e-3
  const inside = Math.min(LENS_LIMITS.most - h, Math.max(LENS_LIMITS.least + h, k1))
  const bend = (cost(inside + h) - 2 * cost(inside) + cost(inside - h)) / (h * h)
  // Two parameters for each line and one for the lens.
  const freedom = points - 2 * usable.length - 1
  const scatter = freedom > 0 ? cost(k1) / freedom : 0
  const error = Math.sqrt((2 * Math.max(scatter, placing ** 2)) / bend)
  if (!(bend > 0) || !(error < 0.2)) return null
  const rms = (at: number) => Math.sqrt(cost(at) / points)
  return { k1, error, before: rms(0), after: rms(k1) }
}
