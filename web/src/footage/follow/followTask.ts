import type {
  FollowQuestion,
  FollowSettings,
  Outline,
  Plane,
  PredictionName,
} from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'
import type { Orientation } from '@apokinema/core/investigation'

/** A body to be followed from the frame that the task begins in. */
export interface FollowedBody {
  id: string
  at: Point
  /** Outline within which it is followed; null: it is followed by the colour at its point. */
  outline: Outline | null
  /** Its earlier positions in the direction of following, earliest first. */
  before: (Point & { time: number })[]
}

/** What is to be followed, through which frames. */
export interface FollowTask {
  /** The frame in which the bodies are outlined, and the frames after it, in order. */
  start: number
  frames: number[]
  /** Real time of every frame of the clip. */
  seconds: Float64Array
  /** Median interval between two frames of the clip, in seconds. */
  frameSeconds: number
  orientation: Orientation
  /** Size of the picture as the person sees it. */
  picture: { width: number; height: number }
  settings: FollowSettings
  /** Consecutive frames in which a body may be missing before the person is asked. */
  patience: number
  /** Frames from which the background is learned; empty if the camera moves. */
  still: number[]
  bodies: FollowedBody[]
}

/** Consecutive frames in which a body may be missing before the person is asked, at the lowest and highest persistence. */
const PATIENCE = { early: 0, late: 3 }

/** Returns the consecutive frames in which a body may be missing before the person is asked. */
export const patienceOf = (persistence: number): number =>
  Math.ceil(PATIENCE.early + (PATIENCE.late - PATIENCE.early) * persistence)

/** A mark that was found. */
export interface FoundMark extends Point {
  body: string
  frame: number
  certainty: number
  /** Whether it is placed by the body's outline, because the pattern within it turns or changes. */
  byOutline: boolean
}

/** Why following can't go on by itself. */
export interface Question {
  body: string
  frame: number
  why: FollowQuestion['why']
  /** The first frame in which it was not seen. */
  since: number
  /** Predicted position of the body. */
  at: Point
  /** Candidate positions. */
  places: Point[]
  /** Whether it would be found more easily by the colour at its point. */
  isByColourBetter: boolean
}

/** Progress of a run. */
export interface FollowNews {
  marks: FoundMark[]
  frame: number
  done: number
  /** Frames a second. */
  rate: number
  /** Where each body is searched for. */
  reaches: {
    body: string
    at: Point
    radius: number
    by: PredictionName
    certainty: number | null
    /** Whether it is placed by its outline, because the pattern within it turns or changes. */
    byOutline: boolean
  }[]
  question: Question | null
  /** The look by which the first body was found in this frame, each of its pixels so many of the frame's. */
  matched: { plane: Plane; each: number } | null
  /** Bodies that have left the picture. */
  left: string[]
}

export type Answer = { kind: 'show'; at: Point } | { kind: 'look on' } | { kind: 'stop' }
