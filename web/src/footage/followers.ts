import {
  type Background,
  ColourFollower,
  Follower,
  type Following,
  type FollowSettings,
  type Other,
  type Outline,
  type Plane,
  type Reach,
  type Rect,
  type Sighting,
} from '@apokinema/core/following'
import type { Point } from '@apokinema/core/geometry'

/** A body to be followed from the frame that the task begins in. */
export interface FollowedBody {
  id: string
  at: Point
  /** By whose inside it is followed; null: by the colour at its place. */
  outline: Outline | null
  /** Where it was in frames before, in the direction that it is followed in, the earliest first. */
  before: (Point & { time: number })[]
}

/** What is the same for all bodies of a run. */
export interface RunFacts {
  /** Real time of the frame in which the bodies are known. */
  time: number
  /** Usual time between two frames of the clip. */
  frameSeconds: number
  /** Size of the picture as the person sees it. */
  picture: { width: number; height: number }
  settings: FollowSettings
}

/** What of a look into a frame matters for the next one. */
export interface Ahead {
  /** Where the body is looked for in the next frame. */
  reach: Reach
  /** Where it was last seen, and how large it is. */
  place: Other
}

/** The look by which a body was found, as a part of its picture, each of whose pixels is `each` of the frame's. */
export interface Matched {
  plane: Plane
  each: number
}

type Now<T> = T | Promise<T>

/** Followers of some bodies, in this thread or in another one. Planes that are handed over are used up. */
export interface FollowerHost {
  begin(facts: RunFacts, background: Background | null): Now<void>
  /** Learns a body in the frame that it is known in. */
  learn(body: FollowedBody, plane: Plane, next: number): Now<Ahead>
  /** Looks for a body in a frame. */
  look(id: string, plane: Plane, time: number, others: Other[], next: number): Now<Ahead & { seen: Sighting }>
  /** Where a body is looked for at a time. */
  reach(id: string, time: number): Now<Reach>
  /** Looks farther, within the same frame; gives where. */
  widen(id: string, time: number): Now<Reach>
  /** Rectangle of a frame that `show` needs. */
  showReach(id: string, at: Point): Now<Rect>
  /** Is shown where a body is. */
  show(id: string, plane: Plane, time: number, at: Point, next: number): Now<Ahead>
  /** Null where it is not followed by its look. */
  matched(id: string): Now<Matched | null>
}

/** Followers that live in the thread that calls. */
export class Followers implements FollowerHost {
  private facts: RunFacts | null = null
  private background: Background | null = null
  private readonly all = new Map<string, Following>()

  begin(facts: RunFacts, background: Background | null): void {
    this.facts = facts
    this.background = background
    this.all.clear()
  }

  learn({ id, at, outline, before }: FollowedBody, plane: Plane, next: number): Ahead {
    const { time, picture, frameSeconds, settings } = this.facts!
    const follower = outline
      ? new Follower(
          ...([plane, at, time, outline, this.background, picture, frameSeconds, settings, before] as const),
        )
      : new ColourFollower(plane, at, time, picture, settings, before)
    this.all.set(id, follower)
    return this.ahead(id, next)
  }

  look(id: string, plane: Plane, time: number, others: Other[], next: number): Ahead & { seen: Sighting } {
    const seen = this.of(id).see(plane, time, others)
    return { seen, ...this.ahead(id, next) }
  }

  reach(id: string, time: number): Reach {
    return this.of(id).reach(time)
  }

  widen(id: string, time: number): Reach {
    this.of(id).widen()
    return this.of(id).reach(time)
  }

  showReach(id: string, at: Point): Rect {
    return this.of(id).showReach(at)
  }

  show(id: string, plane: Plane, time: number, at: Point, next: number): Ahead {
    this.of(id).show(plane, time, at)
    return this.ahead(id, next)
  }

  matched(id: string): Matched | null {
    const follower = this.of(id)
    return follower instanceof Follower ? follower.matched() : null
  }

  private of(id: string): Following {
    const follower = this.all.get(id)
    if (!follower) throw new Error('That body is not followed.')
    return follower
  }

  private ahead(id: string, next: number): Ahead {
    const follower = this.of(id)
    return { reach: follower.reach(next), place: follower.place() }
  }
}
