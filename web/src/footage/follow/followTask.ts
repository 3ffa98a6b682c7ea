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
  /** By whose inside it is followed; null: by the colour at its place. */
  outline: Outline | null
  /** Where it was in frames before, in the direction that it is followed in, the earliest first. */
  before: (Point & { time: number })[]
}

/** What is to be followed, through which frames. */
export interface FollowTask {
  /** The frame in which the bodies are known, and those to go through after it, in this order. */
  start: number
  frames: number[]
  /** Real time of every frame of the clip. */
  seconds: Float64Array
  /** Typical time between two frames of the clip, in seconds. */
  frameSeconds: number
  orientation: Orientation
  /** Size of the picture as the person sees it. */
  picture: { width: number; height: number }
  settings: FollowSettings
  /** Frames in a row in which a body may not be seen before it is asked for. */
  patience: number
  /** Frames that show what stands still; none where the camera moves. */
  still: number[]
  bodies: FollowedBody[]
}

/** A mark that was found. */
export interface FoundMark extends Point {
  body: string
  frame: number
  certainty: number
  /** Whether it is placed by the body's outline, since the pattern within it turns or changes. */
  byOutline: boolean
}

/** Why it is not gone on by itself. */
export interface Question {
  body: string
  frame: number
  why: FollowQuestion['why']
  /** The first frame in which it was not seen. */
  since: number
  /** Where the body is expected. */
  at: Point
  /** Where something looks like it. */
  places: Point[]
  /** Whether it would be found more easily by the colour at its point. */
  isByColourBetter: boolean
}

/** How a run is going. */
export interface FollowNews {
  marks: FoundMark[]
  frame: number
  done: number
  /** Frames a second. */
  rate: number
  /** Where each body is looked for. */
  reaches: {
    body: string
    at: Point
    radius: number
    by: PredictionName
    certainty: number | null
    /** Whether it is placed by its outline, since the pattern within it turns or changes. */
    byOutline: boolean
  }[]
  question: Question | null
  /** The look by which the first body was found in this frame, each of its pixels so many of the frame's. */
  matched: { plane: Plane; each: number } | null
  /** Bodies that have left the picture. */
  left: string[]
}

export type Answer = { kind: 'show'; at: Point } | { kind: 'look on' } | { kind: 'stop' }
