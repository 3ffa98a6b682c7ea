import { type FittedLine, fitCircle, fitLine, type Point } from '../geometry/index.ts'
import {
  axesOf,
  edits,
  type Investigation,
  type Mutator,
  refusalsOf,
  together,
} from '../investigation/index.ts'
import { FOLLOWING_DRIFT } from '../motion/index.ts'
import { sumOfSquares } from '../regression/index.ts'
import { type FramePoint, segmentAt, segmentThrough, type TimedPoint } from './segments.ts'
import type { StretchLaw } from './stretches.ts'

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
  const line = fitLine(points)
  const rms = rootMeanSquare(line.across)
  if (isTight(rms, error) && lengthOf(line) > SHAPE * Math.max(rms, error))
    return alongLine(line, points, law, error, isFollowed)
  if (law === 'oscillation') return aboutPivot(line, points, error)
  return law === 'uniform-acceleration' ? alongFall(points, error, isFollowed) : null
}

const rootMeanSquare = (values: Float64Array) => Math.sqrt(sumOfSquares(values) / values.length)

/** Returns the distance between the outermost points along a line. */
const lengthOf = ({ along }: FittedLine) => Math.max(...along) - Math.min(...along)

/** Returns true if marks scatter no more about a shape than they do anyway. */
const isTight = (rms: number, error: number) => rms <= Math.max(SCATTER.errors * error, SCATTER.pixels)

/** Returns the origin at the centre of the arc on which something swings; null if it is no convincing arc. */
function aboutPivot(line: FittedLine, points: readonly FramePoint[], error: number): ProposedAxes | null {
  const circle = fitCircle(points)
  if (!circle) return null
  const { centre, radius, rms, centreFactor, radiusFactor } = circle
  const scatter = Math.max(error, rms)
  const isArc = isTight(rms, error) && rootMeanSquare(line.across) > DEPTH * scatter
  if (!isArc || radiusFactor * scatter > VAGUE * radius) return null
  const origin = { ...centre, error: centreFactor * scatter, frame: points[0].frame }
  return { kind: 'pivot', radius, origin }
}

/** Largest correlation of neighbours that is reckoned with. */
const MOST_CORRELATION = 0.95

/**
 * Returns the correlation of the errors of neighbouring marks, 0 … 0.95, estimated from the residuals of a polynomial fit. The fit
 * absorbs part of a slow error, so the correlation ρ of the residuals is too small by about (k + 1 + (k + 3) ρ) / n for degree k and
 * n marks (Shaman and Stine, Journal of the American Statistical Association 83 (1988) 842), which is added back.
 *
 * @param residuals one or more lists of the same length n > k + 3
 */
function neighbourCorrelation(degree: number, ...residuals: readonly Float64Array[]): number {
  const sum = (of: (values: Float64Array) => number) => residuals.reduce((total, one) => total + of(one), 0)
  const square = sum(sumOfSquares)
  const product = sum((values) => values.slice(1).reduce((total, one, i) => total + one * values[i], 0))
  if (square === 0) return 0
  const { length } = residuals[0]
  const unbiased = (product / square + (degree + 1) / length) / (1 - (degree + 3) / length)
  return Math.min(MOST_CORRELATION, Math.max(0, unbiased))
}

/** Returns by how much an error grows where neighbours share so much of theirs (Bayley and Hammersley 1946). */
const inflation = (correlation: number) => Math.sqrt((1 + correlation) / (1 - correlation))

/** Returns axes of which the nearer one lies along a line. Its direction has the standard error σ / √Σs², with s the places along it. */
function alongLine(
  line: FittedLine,
  points: readonly FramePoint[],
  law: StretchLaw,
  error: number,
  isFollowed: boolean,
): ProposedAxes {
  const { direction, middle } = line
  const along = Math.abs(Math.cos(direction)) >= Math.SQRT1_2 ? 'x' : 'y'
  const scatter = Math.max(error, rootMeanSquare(line.across))
  const spread = Math.sqrt(sumOfSquares(line.along))
  const [first, last] = [points[0], points[points.length - 1]]
  const isSwinging = law === 'oscillation'
  const { x, y } = isSwinging ? middle : first
  return {
    kind: 'line',
    along,
    tilt: nearestTurn(along === 'x' ? direction : direction - Math.PI / 2),
    // A drift across the line turns it.
    tiltError: Math.hypot(
      (scatter * inflation(neighbourCorrelation(1, line.across))) / spread,
      isFollowed ? FOLLOWING_DRIFT.along / (lengthOf(line) / 2) : 0,
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
    2,
    Float64Array.from(off, ({ x }) => x),
    Float64Array.from(off, ({ y }) => y),
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
 * Returns the axes of a body that are proposed: none where the camera moves or the picture is undistorted, only a line
 * where it is rectified (a line stays one), none once axes are placed or locked, after they were refused, and none where upright axes do.
 */
export function openAxes(
  investigation: Investigation,
  body: string,
  found: ProposedAxes | null,
): ProposedAxes | null {
  const { camera, plane, lens, locks } = investigation
  if (!found || camera.motion !== 'still' || lens || locks.axes) return null
  if (plane && found.kind !== 'line') return null
  if (axesOf(investigation).placed) return null
  if (refusalsOf(investigation, 'axes').some((refusal) => refusal.body === body)) return null
  return found.kind === 'fall' && !isLeaning(found) ? null : found
}

/** Sets the axes to proposed ones. As something falls, heights follow the direction of its fall, too. */
export function takeAxes(proposed: ProposedAxes): Mutator {
  if (proposed.kind === 'pivot') return edits.setAxes({ origin: proposed.origin })
  const { tilt, tiltError } = proposed
  if (proposed.kind === 'line') {
    const { turnedX } = proposed
    const { is, ...origin } = proposed.origin
    return edits.setAxes({ origin, tilt, tiltError, turnedX })
  }
  return together(
    edits.setAxes({ tilt, tiltError }),
    edits.setGravity({ direction: tilt - Math.PI / 2, error: tiltError }),
  )
}
