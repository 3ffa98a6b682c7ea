import type { Point } from '../geometry/index.ts'
import type { Plane, Rect } from './grid.ts'
import type { Other } from './others.ts'
import type { PredictionName } from './predict.ts'
import type { Following, Sighting } from './sighting.ts'

/**
 * Frames in which a body may stay out of sight once a person has said that it is hidden: at least, at most, and the
 * distance it goes meanwhile in body widths. What hides a body is seldom wider.
 */
const LOOK_ON = { least: 5, most: 40, widths: 3 }
/** From `of` frames on, a person is asked if the body was not seen in more than this share of them. */
const MISSED = { of: 15, share: 0.2 }

/** Why following stops for a person. */
export interface FollowQuestion {
  why: 'hidden' | 'two' | 'elsewhere'
  /** Time of the first frame in which the body was not seen, in seconds. */
  since: number
  /** Expected place, in pixels. */
  at: Point
  /** Places that look like the body. */
  places: Point[]
}

/** Result of looking for a body in one frame. `missed`: not seen, but it may stay out of sight for a while. */
export type GuidedOutcome =
  | Extract<Sighting, { kind: 'found' | 'left' }>
  | { kind: 'missed' }
  | ({ kind: 'question' } & FollowQuestion)

/** Where a body was searched for last, and what was found. */
export interface LastSearch {
  at: Point
  radius: number
  by: PredictionName
  /** Null if it was not found. */
  certainty: number | null
  byOutline: boolean
}

/**
 * Follows one body frame by frame, searches a second time in a wider reach if it is not seen, and decides when a
 * person must be asked.
 */
export class GuidedFollower {
  /** Frames in a row without the body. */
  hiddenFor = 0
  lastSearch: LastSearch | null = null
  private hiddenSince = 0
  /** Frames looked at, and frames without the body, since a person was asked last. */
  private searches = 0
  private missed = 0
  private allowed: number

  /**
   * @param patience frames in a row in which the body may be out of sight before a person is asked
   * @param frameSeconds typical time between two frames, in seconds
   */
  constructor(
    readonly follower: Following,
    private readonly patience: number,
    private readonly frameSeconds: number,
  ) {
    this.allowed = patience
  }

  /**
   * Looks for the body in the frame at `time` (s).
   *
   * @param read returns the part of that frame inside a rectangle
   * @param others bodies that are followed in the same frame
   */
  async search(
    read: (rect: Rect) => Plane | Promise<Plane>,
    time: number,
    others: readonly Other[] = [],
  ): Promise<GuidedOutcome> {
    this.searches++
    for (let tries = 0; ; tries++) {
      const { at, radius, rect, by } = this.follower.reach(time)
      const seen = this.follower.see(await read(rect), time, others)
      const found = seen.kind === 'found' ? seen : null
      this.lastSearch = {
        at,
        radius,
        by,
        certainty: found?.certainty ?? null,
        byOutline: found?.byOutline ?? false,
      }
      if (seen.kind === 'found') this.hiddenFor = 0
      if (seen.kind === 'found' || seen.kind === 'left') return seen
      if (seen.kind === 'two') return this.asks({ why: 'two', since: time, at: seen.at, places: seen.places })
      if (seen.kind === 'elsewhere')
        return this.asks({ why: 'elsewhere', since: this.hiddenSince, at: seen.at, places: seen.places })
      if (tries < 1) {
        this.follower.widen()
        continue
      }
      if (this.hiddenFor === 0) this.hiddenSince = time
      this.hiddenFor++
      this.missed++
      const isOften = this.searches >= MISSED.of && this.missed > MISSED.share * this.searches
      if (this.hiddenFor <= this.allowed && !isOften) return { kind: 'missed' }
      return this.asks({ why: 'hidden', since: this.hiddenSince, at: seen.at, places: [] })
    }
  }

  private asks(question: FollowQuestion): GuidedOutcome {
    this.searches = 0
    this.missed = 0
    return { kind: 'question', ...question }
  }

  /** Continues after a person said that the body is hidden: allows it as long as it needs to pass what hides it. */
  lookOn(time: number): void {
    const [here, next] = [time, time + this.frameSeconds].map((at) => this.follower.reach(at).at)
    const speed = Math.hypot(next.x - here.x, next.y - here.y)
    const frames = (LOOK_ON.widths * 2 * this.follower.place().size) / speed
    this.allowed = this.hiddenFor + Math.round(Math.min(LOOK_ON.most, Math.max(LOOK_ON.least, frames)))
  }

  /**
   * Continues from where a person showed the body in the frame at `time` (s).
   *
   * @param plane as large as `follower.showReach(at)` asks for
   */
  show(plane: Plane, time: number, at: Point): void {
    this.follower.show(plane, time, at)
    this.hiddenFor = 0
    this.allowed = this.patience
  }
}
