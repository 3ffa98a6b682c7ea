import type { Point } from './points.ts'
import { type Similarity, similarityStep } from './similarity.ts'
import { applied, inTurn, type Matrix2, type Step } from './step.ts'

/** Origin, tilt and handedness of the scene's coordinates. */
export interface Axes {
  origin: Point
  /** How far the x axis's line is turned from the picture's right towards up, in radians. */
  tilt: number
  /** Whether x counts the other way along its line. */
  turnedX: boolean
  /** Whether y counts the other way along its line, which lies a quarter turn on from the x axis's. */
  turnedY: boolean
}

/** Maps between picture (pixels) and scene (metres, or pixels where no scale is known), in the user's axes. */
export interface SceneTransform {
  toScene(point: Point): Point
  toPicture(point: Point): Point
  /** Returns how far the scene point moves where the picture point moves. */
  jacobian(point: Point): Matrix2
}

/** All maps between a frame's picture and the scene. */
export interface Calibration {
  /** Removes lens distortion; null if none is corrected. */
  lens: Step | null
  /** Takes a frame's picture to the base picture; null: the camera stood still. */
  camera: Similarity | null
  /** The plane of motion as the base picture shows it; null: it lies parallel to the sensor. */
  plane: Step | null
  /** Metres a pixel of the base picture, where there is no plane; null: the scene is measured in pixels. */
  metresPerPixel: number | null
}

/** The axes with the camera's similarity in the frame in which they were placed. */
export interface PlacedAxes extends Axes {
  /** Takes the picture in which the axes were placed to the base picture; null as in `Calibration`. */
  camera: Similarity | null
}

/** Returns the steps from a frame's picture to the plane of motion, in metres (or pixels) with y up, before any axes. */
function ground({ lens, camera, plane, metresPerPixel }: Calibration): Step {
  const steps: Step[] = []
  if (lens) steps.push(lens)
  if (camera) steps.push(similarityStep(camera))
  steps.push(plane ?? flat(metresPerPixel ?? 1))
  return inTurn(steps)
}

/** Returns a plane parallel to the sensor: pixels become lengths, and y points up. */
function flat(factor: number): Step {
  return {
    forward: ({ x, y }) => ({ x: factor * x, y: -factor * y }),
    backward: ({ x, y }) => ({ x: x / factor, y: -y / factor }),
    jacobian: () => [
      [factor, 0],
      [0, -factor],
    ],
  }
}

/**
 * Returns the transform of one frame: lens, camera, plane or scale, then the axes. The axes' origin is the point
 * of the plane that is seen at their place, and x runs along the line in the plane that is seen along their
 * tilt there; y stands on x in the plane.
 */
export function sceneTransform(axes: PlacedAxes, calibration: Calibration): SceneTransform {
  const placing = ground({ ...calibration, camera: axes.camera })
  const origin = placing.forward(axes.origin)
  const along = applied(placing.jacobian(axes.origin), { x: Math.cos(axes.tilt), y: -Math.sin(axes.tilt) })
  const length = Math.hypot(along.x, along.y)
  const [cos, sin] = [along.x / length, along.y / length]
  const [signX, signY] = [axes.turnedX ? -1 : 1, axes.turnedY ? -1 : 1]
  const turn: Step = {
    forward: ({ x, y }) => {
      const [right, up] = [x - origin.x, y - origin.y]
      return { x: signX * (cos * right + sin * up), y: signY * (cos * up - sin * right) }
    },
    backward: ({ x, y }) => {
      const [u, v] = [signX * x, signY * y]
      return { x: origin.x + cos * u - sin * v, y: origin.y + sin * u + cos * v }
    },
    jacobian: () => [
      [signX * cos, signX * sin],
      [-signY * sin, signY * cos],
    ],
  }
  const whole = inTurn([ground(calibration), turn])
  if (calibration.lens || calibration.plane)
    return { toScene: whole.forward, toPicture: whole.backward, jacobian: whole.jacobian }
  // Without a lens and a plane all steps together are one affine map.
  const jacobian = whole.jacobian(axes.origin)
  const [[a, b], [c, d]] = jacobian
  const zero = whole.forward({ x: 0, y: 0 })
  return {
    toScene: ({ x, y }) => ({ x: zero.x + a * x + b * y, y: zero.y + c * x + d * y }),
    toPicture: whole.backward,
    jacobian: () => jacobian,
  }
}
