import { distance, type Point } from '../geometry/index.ts'
import type { BodySilhouette } from './bodySilhouette.ts'
import type { Other } from './others.ts'
import { type Prediction, Predictor } from './predict.ts'
import type { Pose } from './template.ts'

/** A new body is looked for within so many of its own radii, and at least so many pixels. */
const FIRST_REACH = { radii: 2.5, pixels: 40 }
/**
 * A body that was out of sight is accepted again within `near` standard deviations of the prediction; up to `soon`
 * failed searches also within `sizes` half widths and `steps` last steps, as far as it can have been knocked away;
 * and with at least this share of its typical score.
 */
export const AGAIN = { near: 3, soon: 4, sizes: 3, steps: 3, score: 0.85 }

/** The state of a body that is followed: last pose, motion, and how long it has not been seen. */
export class BodyTrack {
  readonly predictor = new Predictor()
  pose: Pose
  /** Factor by which the reach is widened for now. */
  wide = 1
  /** Looks in vain since it was seen last. */
  misses = 0
  /** Frames in a row in which it was found. */
  foundInRow = 0
  lastTime: number
  /** How far it went from one sighting to the next, in pixels. */
  stepLength = 0

  /**
   * @param picture size of the frames in pixels
   * @param frameSeconds typical time from one frame to the next: the shutter is open for a share of it
   */
  constructor(
    at: Point,
    time: number,
    private readonly shape: BodySilhouette,
    readonly picture: { width: number; height: number },
    readonly frameSeconds: number,
  ) {
    this.pose = { x: at.x, y: at.y, scale: 1, turn: 0 }
    this.lastTime = time
  }

  /** Returns where the body was last seen, and its half width in pixels. */
  place(): Other {
    return { x: this.pose.x, y: this.pose.y, size: this.pose.scale * this.shape.size }
  }

  /** Returns true if a body that was just missed may be so far from where it is expected since something knocked it away. */
  isSudden(at: Point, predicted: Prediction, radius: number): boolean {
    const farthest = AGAIN.sizes * this.place().size + AGAIN.steps * this.stepLength
    return this.misses <= AGAIN.soon && distance(at, predicted) < Math.min(radius / this.wide, farthest)
  }

  /** Pixels that the body reaches from its point at most, with its smear. */
  extent(): number {
    return this.pose.scale * Math.max(...this.shape.outline.radii) + this.smearLength()
  }

  private smearLength(): number {
    return Math.min(120, this.shape.shutter * this.stepLength)
  }

  /** Returns how far around the predicted place the body is looked for, in pixels. */
  radiusOf(predicted: Prediction, time: number): number {
    const seconds = Math.abs(time - this.lastTime)
    const step = Math.hypot(predicted.velocity.x, predicted.velocity.y) * seconds
    const first = Math.max(FIRST_REACH.pixels, FIRST_REACH.radii * this.shape.size)
    const reach = Number.isFinite(predicted.error) ? 6 + 4 * predicted.error + 0.8 * step : first + 0.8 * step
    return Math.min(Math.max(this.picture.width, this.picture.height), Math.max(10, reach) * this.wide)
  }

  /** Returns true if a place is outside the picture by more than an error. */
  isOutside({ x, y }: Point, error: number): boolean {
    const { width, height } = this.picture
    return x < -error || y < -error || x > width + error || y > height + error
  }

  /** Returns true if it was last seen so near to the border that it can have gone out since, whole or in part. */
  wasAtBorder(predicted: Prediction, time: number): boolean {
    const { x, y } = this.pose
    const seconds = Math.abs(time - this.lastTime)
    const near =
      2 * this.extent() +
      Math.hypot(predicted.velocity.x, predicted.velocity.y) * Math.min(seconds, 2 * this.frameSeconds)
    return x < near || y < near || x > this.picture.width - near || y > this.picture.height - near
  }

  /** Way that the body goes while the shutter is open. */
  smearAt({ velocity }: Prediction): Point {
    const seconds = this.frameSeconds * this.shape.shutter
    return { x: velocity.x * seconds, y: velocity.y * seconds }
  }
}
