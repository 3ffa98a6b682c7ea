import { applied, type Matrix2, type Point, placingErrorOf, type SceneTransform } from '../geometry/index.ts'
import type { AxesSet, Gravity } from '../investigation/index.ts'

/**
 * Parameters of the calibration that all values depend on: logarithms of the length scale and of the time scale, x and y of
 * the axes' origin in the picture (px), tilt of the axes, and direction of gravity (rad).
 */
export const CALIBRATION_PARAMETERS = ['length', 'time', 'originX', 'originY', 'tilt', 'gravity'] as const
export type CalibrationParameter = (typeof CALIBRATION_PARAMETERS)[number]

/** Derivatives of the scene's coordinates by place and direction of the axes in the picture. */
export interface AxesInScene {
  /** Derivative of the scene point that is seen at the origin's place with respect to that place in the picture. */
  origin: Matrix2
  /**
   * Derivative of the angle by which coordinates turn with respect to the tilt in the picture: where it turns by a small
   * angle δ, a point (x, y) of the scene becomes (x + `turn` δ y, y − `turn` δ x). Negative where one axis counts the
   * other way.
   */
  turn: number
  /**
   * Derivative of that angle with respect to the origin's place along both directions of the picture: in a plane that is
   * seen at an angle, the line of the x axis has another direction elsewhere.
   */
  turnByOrigin: [number, number]
}

/** Pixels by which the origin is moved for that derivative. */
const STEP = 0.5

/** A standard error of the axes or of the direction of gravity, common to all values. */
export interface AxesError {
  source: 'origin' | 'tilt' | 'gravity'
  parameter: CalibrationParameter
  /** In pixels, or in radians. */
  error: number
}

/**
 * Returns how axes lie in the scene.
 *
 * @param seen the transform of the frame that the axes were placed in; null where landmarks don't tell it
 */
export function axesInScene({ origin, tilt }: AxesSet, seen: SceneTransform | null): AxesInScene {
  if (!seen)
    return {
      origin: [
        [0, 0],
        [0, 0],
      ],
      turn: 0,
      turnByOrigin: [0, 0],
    }
  const line = { x: Math.cos(tilt), y: -Math.sin(tilt) }
  const across = { x: -Math.sin(tilt), y: -Math.cos(tilt) }
  const jacobian = seen.jacobian(origin)
  const along = applied(jacobian, line)
  /** Returns how fast the direction of `along` turns where it changes by a vector. */
  const turnBy = (change: Point) => (along.x * change.y - along.y * change.x) / (along.x ** 2 + along.y ** 2)
  const byOrigin = (direction: 'x' | 'y') => {
    const [on, back] = [STEP, -STEP].map((step) =>
      applied(seen.jacobian({ ...origin, [direction]: origin[direction] + step }), line),
    )
    return turnBy({ x: (on.x - back.x) / (2 * STEP), y: (on.y - back.y) / (2 * STEP) })
  }
  return {
    origin: jacobian,
    turn: turnBy(applied(jacobian, across)),
    turnByOrigin: [byOrigin('x'), byOrigin('y')],
  }
}

/** Returns the non-zero errors of axes and of the direction of gravity. Axes that were not placed have none. */
export function axesErrors(
  { origin, tiltError, placed }: AxesSet,
  gravity: Gravity | null,
  { turn }: AxesInScene,
): AxesError[] {
  const placing = placed ? placingErrorOf(origin) : 0
  const errors: AxesError[] = [
    { source: 'origin', parameter: 'originX', error: placing },
    { source: 'origin', parameter: 'originY', error: placing },
    { source: 'tilt', parameter: 'tilt', error: tiltError },
    { source: 'gravity', parameter: 'gravity', error: Math.abs(turn) * (gravity?.error ?? 0) },
  ]
  return errors.filter(({ error }) => error > 0)
}
