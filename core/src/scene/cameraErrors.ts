import { landmarkInfluences, type Point } from '../geometry/index.ts'
import { type Investigation, inOrder } from '../investigation/index.ts'
import { clockOf } from './clockOf.ts'
import type { InvestigationScene } from './investigationScene.ts'

/** How one independent error of a landmark moves the positions: by one standard error of it, from a row of the table on. */
interface CameraError {
  row: number
  x: number[]
  y: number[]
}
export type CameraErrors = CameraError[]

/** A landmark is moved by so many pixels to see what that does. */
const STEP = 0.25

/**
 * Returns how the errors of the landmarks' marks, and of the way between them, move a body's positions. Each is an
 * error of its own; what it does to different rows belongs together. To first order, by moving each landmark
 * a little in each of the frames. Null where the camera stood still.
 */
export function cameraErrors(
  investigation: Investigation,
  scene: InvestigationScene,
  frames: number[],
  marks: Point[],
): CameraErrors | null {
  const clock = clockOf(investigation)
  if (!scene.camera || !clock || frames.length === 0) return null
  const errors: CameraErrors = []
  for (const [id, landmark] of inOrder(investigation.camera.landmarks)) {
    // Where each row goes when this landmark alone is a pixel to the right, or lower, in its frame.
    const moved = { x: slopes(scene, frames, marks, id, 'x'), y: slopes(scene, frames, marks, id, 'y') }
    for (const { axis, error, from, weights } of landmarkInfluences({ id, ...landmark }, clock.seconds)) {
      const first = frames.findIndex((frame) => frame >= from)
      if (first < 0) continue
      const [x, y]: [number[], number[]] = [[], []]
      for (let row = first; row < frames.length && frames[row] < from + weights.length; row++) {
        const by = error * weights[frames[row] - from]
        x.push(by * moved[axis][row].x)
        y.push(by * moved[axis][row].y)
      }
      if (x.length > 0) errors.push({ row: first, x, y })
    }
  }
  return errors
}

function slopes(
  scene: InvestigationScene,
  frames: number[],
  marks: Point[],
  landmark: string,
  axis: 'x' | 'y',
): Point[] {
  const nudged = (row: number, by: number) =>
    scene.nudged(frames[row], { landmark, axis, by })!.toScene(marks[row])
  return marks.map((_, row) => {
    const [on, back] = [nudged(row, STEP), nudged(row, -STEP)]
    return { x: (on.x - back.x) / (2 * STEP), y: (on.y - back.y) / (2 * STEP) }
  })
}
