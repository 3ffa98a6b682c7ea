import type { Point } from '../geometry/index.ts'
import type { Plane, Rect } from './grid.ts'
import type { Other } from './others.ts'
import type { Prediction, PredictionName } from './predict.ts'
import type { Pose } from './template.ts'
import type { Change } from './templateMatcher.ts'

/** How a body is followed. */
export interface FollowSettings {
  /** 0: stop early, at the least doubt; 1: carry on as long as there is anything to go by. */
  persistence: number
  change: Change
  /**
   * What tells the place: the body's outline against a known background, or the template around its point, which turns with
   * the body. Without it whichever proves the better witness.
   */
  placedBy?: 'outline' | 'template'
}

/** What is seen of a body in one frame. */
export type Sighting =
  | {
      kind: 'found'
      at: Point
      /** 0 … 1: how much of what is there the template explains, against what it usually does. */
      certainty: number
      pose: Pose
      by: PredictionName
      /** Whether the place is that of the outline, since the pattern within it turns or changes. */
      byOutline: boolean
    }
  /** Nothing there looks like it: it is hidden, or gone. */
  | { kind: 'hidden'; at: Point }
  /** Two places look like it, and its motion does not tell which is meant. */
  | { kind: 'two'; at: Point; places: Point[] }
  /** After it was out of sight for long something that looks like it is elsewhere than it should be. */
  | { kind: 'elsewhere'; at: Point; places: Point[] }
  /** Where it must be now is outside the picture. */
  | { kind: 'left'; at: Point }

/** Where a body is looked for in a frame. */
export interface Reach {
  /** Expected place in pixels. */
  at: Point
  /** How far around it, in pixels. */
  radius: number
  /** The part of the frame that is needed for it. */
  rect: Rect
  by: PredictionName
}

/** Follows one body through frames, one after the other. */
export interface Following {
  reach(time: number): Reach
  widen(): void
  see(plane: Plane, time: number, others?: readonly Other[]): Sighting
  /** Returns where the body was last seen, and how large it is: what others keep out of. */
  place(): Other
  show(plane: Plane, time: number, at: Point): void
  showReach(at: Point): Rect
}

/** Everything needed to search for a body in a frame. */
export interface Where {
  plane: Plane
  time: number
  others: readonly Other[]
  predicted: Prediction
  radius: number
  /** Brightness of the frame over that of the background. */
  gain: number
}

/** Pose and time of the sighting before. */
export type Before = Pose & { time: number }

/** A sighting, and how to learn from it if it is accepted. */
export interface Decision {
  sighting: Sighting
  /** Score of the template; 0 if it was found otherwise, or not at all. */
  score?: number
  accept: ((before: Before, predicted: Prediction) => void) | null
}

/** Returns the decision that nothing is seen where a body is expected. */
export const hiddenAt = ({ x, y }: Point): Decision => ({
  sighting: { kind: 'hidden', at: { x, y } },
  accept: null,
})
