import { fitCircle, type Point } from '../geometry/index.ts'
import { axesOf, edits, type Investigation, type Recipe } from '../investigation/index.ts'
import { FOLLOWING_DRIFT } from '../motion/index.ts'
import { segmentAt, segmentThrough, type TimedPoint } from './segments.ts'
import type { FramePoint, StretchLaw } from './stretches.ts'

/** Axes that the motion of a body asks for, in the picture of a camera that stands still. */
export type ProposedAxes =
  /** Along its line, with the origin at its first mark, or at the middle of a motion to and fro. */
  | {
      kind: 'line'
      /** Which axis lies along it. */
      along: 'x' | 'y'
      /** Tilt of the axes, and its standard error, in radians. */
      tilt: number
      tiltError: number
      /** Whether x counts leftwards, so that it counts along the motion. */
      turnedX: boolean
      origin: ProposedOrigin & { is: 'first-mark' | 'middle' }
    }
  /** Upright as it falls: by how much the direction of the acceleration is turned from straight down, anticlockwise, in radians. */
  | { kind: 'fall'; tilt: number; tiltError: number }
  /** Origin at the centre of its arc. */
  | { kind: 'pivot'; origin: ProposedOrigin; radius: number }

/** A place in the picture, its standard error along each direction in pixels, and the frame in which it was seen. */
type ProposedOrigin = Point & { error: number; frame: number }

/** Fewest marks that axes are told from. */
const FEWEST = 8
/** Standard errors of a mark, and pixels, within which marks follow a line or a circle. */
const SCATTER = { errors: 2, pixels: 0.5 }
/** A line must be so many times longer than its scatter, and an arc's rms distance from its chord so many times as large. */
const SHAPE = 15
const DEPTH = 5
/** Most relative standard error of an arc's radius. */
const VAGUE = 0.05
/** Directions of fall farther from the picture's vertical are not those of a fall: 20°. */
const MOST_LEAN = Math.PI / 9

/**
 * Returns the axes that a motion on which one law holds asks for; null if none are convincing.
 *
 * @param points its marks by time
 * @param error standard error of a mark along each direction, in pixels
 * @param isFollowed whether the marks drift slowly as followed ones do
 */
export function motionAxes(
  points: readonly FramePoint[],
  law: StretchLaw,
  error: number,
  isFollowed: boolean,
): ProposedAxes | null {
  if (points.length < FEWEST) return null
  const isTight = (rms: number) => rms <= Math.max(SCATTER.errors * error, SCATTER.pixels)
  const line = lineThrough(points)
  if (isTight(line.rms) && line.length > SHAPE * Math.max(line.rms, error))
    return alongLine(line, points, law, error, isFollowed)
  if (law === 'oscillation') return aboutPivot(line, points, error)
  return law === 'uniform-acceleration' ? alongFall(points, error, isFollowed) : null
}

/** Returns the origin at the centre of the arc on which something swings; null if it is no convincing arc. */
function aboutPivot(line: Line, points: readonly FramePoint[], error: number): ProposedAxes | null {
  const circle = fitCircle(points)
  if (!circle) return null
  const { centre, radius, rms, centreFactor, radiusFactor } = circle
  const scatter = Math.max(error, rms)
  const isArc = rms <= Math.max(SCATTER.errors * error, SCATTER.pixels) && line.rms > DEPTH * scatter
  if (!isArc || radiusFactor * scatter > VAGUE * radius) return null
  const origin = { ...centre, error: centreFactor * scatter, frame: points[0].frame }
  return { kind: 'pivot', radius, origin }
}

/** A straight line through points: their middle, its direction in radians from the picture's right towards up, and how they lie on it. */
interface Line {
  middle: Point
  direction: number
  /** Between the outermost points along it. */
  length: number
  /** Root of the sum of squared distances along it from the middle. */
  spread: number
  /** Root mean square distance of the points from it, and the correlation of the distances of neighbours. */
  rms: number
  correlation: number
}

/** Largest correlation of neighbours that is reckoned with. */
const MOST_CORRELATION = 0.95

/** Returns the correlation of neighbours in series whose mean is 0, 0 … 0.95. */
function neighbourCorrelation(...series: readonly (readonly number[])[]): number {
  const sum = (of: (values: readonly number[]) => number) => series.reduce((total, one) => total + of(one), 0)
  const square = sum((values) => values.reduce((total, one) => total + one * one, 0))
  const product = sum((values) => values.slice(1).reduce((total, one, i) => total + one * values[i], 0))
  return square > 0 ? Math.min(MOST_CORRELATION, Math.max(0, product / square)) : 0
}

/** Returns by how much an error grows where neighbours share so much of theirs (Bayley and Hammersley 1946). */
const inflation = (correlation: number) => Math.sqrt((1 + correlation) / (1 - correlation))

/** Returns the line with the least sum of squared distances from points: their principal axis. */
function lineThrough(points: readonly Point[]): Line {
  const n = points.length
  const mean = (key: 'x' | 'y') => points.reduce((sum, point) => sum + point[key], 0) / n
  const middle = { x: mean('x'), y: mean('y') }
  const sum = (of: (x: number, y: number) => number) =>
    points.reduce((total, { x, y }) => total + of(x - middle.x, y - middle.y), 0)
  const [xx, xy, yy] = [sum((x) => x * x), sum((x, y) => x * y), sum((_, y) => y * y)]
  const turn = Math.atan2(2 * xy, xx - yy) / 2
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
  const along = points.map(({ x, y }) => cos * (x - middle.x) + sin * (y - middle.y))
  const across = points.map(({ x, y }) => cos * (y - middle.y) - sin * (x - middle.x))
  const square = across.reduce((total, one) => total + one * one, 0)
  return {
    middle,
    direction: -turn,
    length: Math.max(...along) - Math.min(...along),
    spread: Math.sqrt(along.reduce((total, one) => total + one * one, 0)),
    rms: Math.sqrt(square / n),
    correlation: neighbourCorrelation(across),
  }
}

/** Returns axes of which the nearer one lies along a line. Its direction has the standard error σ / √Σs², with s the places along it. */
function alongLine(
  { direction, spread, rms, correlation, middle, length }: Line,
  points: readonly FramePoint[],
  law: StretchLaw,
  error: number,
  isFollowed: boolean,
): ProposedAxes {
  const along = Math.abs(Math.cos(direction)) >= Math.SQRT1_2 ? 'x' : 'y'
  const scatter = Math.max(error, rms)
  const [first, last] = [points[0], points[points.length - 1]]
  const isSwinging = law === 'oscillation'
  const { x, y } = isSwinging ? middle : first
  return {
    kind: 'line',
    along,
    tilt: nearestTurn(along === 'x' ? direction : direction - Math.PI / 2),
    // A drift across the line turns it.
    tiltError: Math.hypot(
      (scatter * inflation(correlation)) / spread,
      isFollowed ? FOLLOWING_DRIFT.along / (length / 2) : 0,
    ),
    turnedX: along === 'x' && !isSwinging && last.x < first.x,
    origin: {
      x,
      y,
      error: isSwinging ? scatter / Math.sqrt(points.length) : error,
      frame: first.frame,
      is: isSwinging ? 'middle' : 'first-mark',
    },
  }
}

/** Returns upright axes as something falls along a parabola; null if it does not fall about downwards. */
function alongFall(points: readonly TimedPoint[], error: number, isFollowed: boolean): ProposedAxes | null {
  const last = points.length - 1
  const through = segmentThrough(points, 0, last, error)
  const off = points.map((point) => {
    const place = segmentAt(through, point.t)
    return { x: point.x - place.x, y: point.y - place.y }
  })
  // Two parabolas with six coefficients go through twice as many coordinates as there are points.
  const scatter = Math.max(error, Math.sqrt(through.rss / (2 * points.length - 6)))
  const shared = neighbourCorrelation(
    off.map(({ x }) => x),
    off.map(({ y }) => y),
  )
  const { acceleration, accelerationError } = segmentThrough(points, 0, last, scatter * inflation(shared))
  const size = Math.hypot(acceleration.x, acceleration.y)
  const tilt = Math.atan2(acceleration.x, acceleration.y)
  if (Math.abs(tilt) > MOST_LEAN) return null
  // A drift b P₂ over the time T bends by 12 b/T².
  const drift = isFollowed ? (12 * FOLLOWING_DRIFT.bend) / (points[last].t - points[0].t) ** 2 : 0
  return { kind: 'fall', tilt, tiltError: Math.hypot(accelerationError, drift) / size }
}

/** Returns the direction of a line that is nearest to 0, in (−π/2, π/2]. */
function nearestTurn(angle: number): number {
  const turned = angle - Math.PI * Math.round(angle / Math.PI)
  return turned <= -Math.PI / 2 ? turned + Math.PI : turned
}

/** A fall that leans by fewer standard errors, or by less (0.1°), is upright: nothing is to be turned. */
const UPRIGHT = { errors: 2, angle: Math.PI / 1800 }

/** Returns true if what falls shows that the camera leans. */
export const isLeaning = ({ tilt, tiltError }: Pick<ProposedAxes & { kind: 'fall' }, 'tilt' | 'tiltError'>) =>
  Math.abs(tilt) > Math.max(UPRIGHT.errors * tiltError, UPRIGHT.angle)

/**
 * Returns the axes of a body that are proposed: none where the camera moves, where the picture is rectified or undistorted, once axes
 * are placed or locked, after they were refused, and none where upright axes do.
 */
export function openAxes(
  investigation: Investigation,
  body: string,
  found: ProposedAxes | null,
): ProposedAxes | null {
  const { camera, plane, lens, locks, refusals } = investigation
  if (!found || camera.motion !== 'still' || plane || lens || locks.axes) return null
  if (axesOf(investigation).placed) return null
  if (Object.values(refusals).some((refusal) => refusal.kind === 'axes' && refusal.body === body)) return null
  return found.kind === 'fall' && !isLeaning(found) ? null : found
}

/** Sets the axes to proposed ones. As something falls, heights follow the direction of its fall, too. */
export function takeAxes(proposed: ProposedAxes): Recipe {
  if (proposed.kind === 'pivot') return edits.setAxes({ origin: proposed.origin })
  const { tilt, tiltError } = proposed
  if (proposed.kind === 'line') {
    const { turnedX } = proposed
    const { is, ...origin } = proposed.origin
    return edits.setAxes({ origin, tilt, tiltError, turnedX })
  }
  return (draft) => {
    edits.setAxes({ tilt, tiltError })(draft)
    edits.setGravity({ direction: tilt - Math.PI / 2, error: tiltError })(draft)
  }
}
