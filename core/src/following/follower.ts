import type { Point } from '../geometry/index.ts'
import { type Background, LEVELS } from './background.ts'
import { type Found, findLook, findPoint, NEARER } from './finder.ts'
import { overlap, type Plane, type Rect, rectAround } from './grid.ts'
import { withRoom } from './kernels.ts'
import {
  type Look,
  learnLook,
  levelFor,
  lookReach,
  type Pose,
  pointOutline,
  renewLook,
  smearBetween,
  turned,
} from './look.ts'
import { isTaken, type Other, WIDENED } from './others.ts'
import { type Outline, sizeOf } from './outline.ts'
import { renderPatch } from './patch.ts'
import { type Prediction, type PredictionName, Predictor } from './predict.ts'
import { type Freedom, refinePose } from './refine.ts'
import { roomForScenes, type Scene, scenesOf } from './scene.ts'

/** How much a body's look may change from frame to frame. */
export const CHANGES = ['constant', 'slowly', 'quickly'] as const
export type Change = (typeof CHANGES)[number]

/** How a body is followed. */
export interface FollowSettings {
  /** 0: stop early, at the least doubt; 1: carry on as long as there is anything to go by. */
  courage: number
  change: Change
}

/** What a frame shows of a body that is followed. */
export type Sighting =
  | {
      kind: 'found'
      at: Point
      /** 0 … 1: how much of what is there the look explains, against what it usually does. */
      certainty: number
      pose: Pose
      by: PredictionName
    }
  /** Nothing there looks like it: it is hidden, or gone. */
  | { kind: 'hidden'; at: Point }
  /** Two places look like it, and its motion does not tell which is meant. */
  | { kind: 'two'; at: Point; places: Point[] }
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

/** Whatever follows one body through frames, one after the other. */
export interface Following {
  reach(time: number): Reach
  widen(): void
  see(plane: Plane, time: number, others?: readonly Other[]): Sighting
  /** Where the body was last seen, and how large it is: what others keep out of. */
  place(): Other
  show(plane: Plane, time: number, at: Point): void
  showReach(at: Point): Rect
}

/** How far size and turn may go in one frame, and how much of a new look is taken over. */
const FREEDOM: Record<Change, Freedom & { renewal: number }> = {
  constant: { scale: 0.006, turn: 0.03, renewal: 0 },
  slowly: { scale: 0.015, turn: 0.08, renewal: 0.15 },
  quickly: { scale: 0.04, turn: 0.25, renewal: 0.6 },
}
/** A new body is looked for within so many of its own radii, and at least so many pixels. */
const FIRST_REACH = { radii: 2.5, pixels: 40 }
/** Share of the usual score that a place must have, for the least and the most courage. */
const NEEDED = { early: 0.88, late: 0.6 }
/** No score below this is ever a sighting. */
const LOWEST = 0.4
/** A look is renewed at every so many sightings. */
const RENEWED = 3
/** Every so many renewals a look is drawn by this share to the first one, where that still scores so much of the usual. */
const LEASH = { every: 2, pull: 0.3, score: 0.8, freedom: { scale: 0.002, turn: 0.01 } }
/** Noise that is reckoned with where it is not known, in steps of brightness. */
const USUAL_NOISE = 3
/** Times farther than usual that is looked at most. */
const WIDEST = 3
/** Share of the needed score below which it is not looked any closer. */
const MAYBE = 0.6
/** What a part that fits counts for, against the whole. */
const HELD = 0.95
/**
 * A body that was out of sight can turn up again within so many deviations from where it is expected, or after so
 * few looks in vain as it takes to be knocked away, with this share of its usual score.
 */
const AGAIN = { near: 3, soon: 4, score: 0.85 }
/** A body that is smeared by more than this share of its own width is a streak. */
const STREAK = 0.3
/** Share of the frame's time for which the shutter is taken to be open. */
const SHUTTER = 0.5

/**
 * Follows one body through frames, one after the other, forwards or backwards in time. It takes parts of
 * frames and says what it sees; it holds no pictures but the looks it has learned.
 */
export class Follower implements Following {
  private readonly predictor = new Predictor()
  private looks: Look[]
  /** The look that was learned where it was shown: what later ones are held against, so that none drifts. */
  private first: Look
  private sightings = 0
  /** The part of the body around its point that tells the place better than the whole; null where none does. */
  private point: { look: Look; first: Look } | null = null
  private outline: Outline
  private pose: Pose
  /** Turn, and growth of the logarithm of the size, from one sighting to the next. */
  private turning = 0
  private growing = 0
  private usual = Number.NaN
  private wide = 1
  /** Looks in vain since it was seen last. */
  private misses = 0
  private lastTime: number
  /** How far it went from one sighting to the next, in pixels. */
  private stepLength = 0
  /** Standard deviation of one frame's noise. */
  private readonly noise: number
  readonly level: number

  /**
   * @param plane of the first frame, as large as `lookReach` asks for
   * @param before places in frames before it, oldest first, where there are some
   */
  constructor(
    plane: Plane,
    at: Point,
    time: number,
    outline: Outline,
    readonly background: Background | null,
    private readonly picture: { width: number; height: number },
    /** Usual time from one frame of the film to the next, in seconds: the shutter is open for a share of it. */
    private readonly frameSeconds: number,
    public settings: FollowSettings,
    before: (Point & { time: number })[] = [],
  ) {
    this.outline = outline
    this.noise = background?.noise ?? USUAL_NOISE
    this.level = levelFor(outline, LEVELS - 1)
    this.looks = [this.learn(plane, at)]
    this.first = this.looks[0]
    this.pose = { x: at.x, y: at.y, scale: 1, turn: 0 }
    for (const { time: when, ...where } of before) this.predictor.add(when, where)
    this.predictor.add(time, at)
    this.lastTime = time
  }

  /** Where the body is looked for at a time, and what part of the frame that needs. */
  reach(time: number): Reach {
    const told = this.predictor.at(time)
    const radius = this.radiusOf(told, time)
    const reach = radius + this.extent() + 8 * 2 ** this.level
    return {
      at: { x: told.x, y: told.y },
      radius,
      rect: overlap(rectAround(told, { x: reach, y: reach }, 16), {
        x: 0,
        y: 0,
        width: this.picture.width,
        height: this.picture.height,
      }),
      by: told.by,
    }
  }

  /** Looks twice as far, within the same frame, where nothing was found. */
  widen(): void {
    this.wide = Math.min(WIDEST, WIDENED * this.wide)
  }

  /**
   * Looks for the body in a frame. What is found is learned from; what is not changes nothing.
   *
   * @param plane the part of the frame that `reach` asked for
   * @param others bodies that are followed in the same frame, whose places are not its own
   */
  see(plane: Plane, time: number, others: readonly Other[] = []): Sighting {
    const told = this.predictor.at(time)
    const radius = this.radiusOf(told, time)
    return withRoom(roomForScenes(plane, radius), () => this.look(plane, time, others, told, radius))
  }

  private look(
    plane: Plane,
    time: number,
    others: readonly Other[],
    told: Prediction,
    radius: number,
  ): Sighting {
    if (this.isOutside(told, told.error) && this.wasAtBorder(told, time))
      return { kind: 'left', at: { x: told.x, y: told.y } }
    const all = scenesOf(plane, this.isStreak(told) ? this.background : null, LEVELS)
    const scenes = { found: all.slice(this.level), fine: { ...all[0], known: null } }
    const by = 2 ** this.level
    const expected: Pose = {
      x: told.x / by,
      y: told.y / by,
      scale: this.pose.scale * Math.exp(this.growing),
      turn: this.pose.turn + this.turning,
    }
    const search = {
      ...{ expected, told, by, noise: this.noise, usual: this.usual },
      reach: radius / by,
      needed: this.needed(),
      freedom: FREEDOM[this.settings.change],
      isTaken: ({ x, y }: Point) => isTaken({ x: x * by, y: y * by }, told, others),
    }
    let best: { look: Look; found: Found } | null = null
    for (const look of this.looks) {
      const found = findLook(scenes.found, look, { ...search, smear: this.smearAt(told) })
      if (found && (!best || found.worth > best.found.worth)) best = { look, found }
      if (best && best.found.refined.score > 0.9 * (this.usual || 1)) break
    }
    const hidden: Sighting = { kind: 'hidden', at: { x: told.x, y: told.y } }
    if (!best) return this.missed(hidden)
    const { found } = best
    const { needed } = search
    if (found.strength < MAYBE * needed) return this.missed(hidden)
    const coarse = { ...found.refined.pose, x: found.refined.pose.x * by, y: found.refined.pose.y * by }
    const fine =
      this.point &&
      findPoint(scenes.fine, this.point.look, { ...search, whole: coarse, smear: this.smearAt(told, 0) })
    const place = fine ? { x: fine.x, y: fine.y } : { x: coarse.x, y: coarse.y }
    const off = Math.hypot(place.x - told.x, place.y - told.y) / told.error
    // Where the part around the point fits well and lies as expected, the rest of the body may look otherwise.
    const held = fine && off < NEARER ? HELD * fine.score : 0
    const strength = Math.max(found.strength, held)
    if (strength < needed) return this.missed(hidden)
    // What turns up somewhere else after it was out of sight for a while is something else.
    const isSudden =
      this.misses <= AGAIN.soon && Math.hypot(place.x - told.x, place.y - told.y) < radius / this.wide
    if (this.misses > 0 && ((off > AGAIN.near && !isSudden) || strength < AGAIN.score * this.usual))
      return this.missed(hidden)
    if (found.rival)
      return { kind: 'two', at: place, places: [place, { x: found.rival.x * by, y: found.rival.y * by }] }
    if (this.isOutside(place, 0)) return { kind: 'left', at: place }
    this.accept(scenes, time, place, found, best.look, told)
    return {
      kind: 'found',
      at: place,
      certainty: Math.min(1, Math.max(0, strength / Math.max(this.usual, strength))),
      pose: { ...this.pose },
      by: told.by,
    }
  }

  place(): Other {
    return { x: this.pose.x, y: this.pose.y, size: this.pose.scale * sizeOf(this.outline) }
  }

  private missed(hidden: Sighting): Sighting {
    this.misses++
    return hidden
  }

  /**
   * Is shown where the body is: from here on it goes on with what it learns there.
   *
   * @param plane as large as `lookReach` asks for
   */
  show(plane: Plane, time: number, at: Point, outline: Outline = this.outline): void {
    this.outline = outline
    const look = this.learn(plane, at)
    this.first = look
    this.looks = [look, ...this.looks].slice(0, 4)
    this.pose = { x: at.x, y: at.y, scale: 1, turn: 0 }
    this.turning = 0
    this.growing = 0
    this.predictor.restart(time, at)
    this.lastTime = time
    this.wide = 1
    this.misses = 0
  }

  /** The look by which the body was found last, as it lay there: brightness, and how many pixels of the frame each has. */
  matched(): { plane: Plane; each: number } {
    const each = 2 ** this.level
    const pose = { ...this.pose, x: this.pose.x / each, y: this.pose.y / each }
    return withRoom(roomForScenes({ ...pose, width: 0, height: 0 }, 0), () => {
      const { width, height, anchor, seen } = renderPatch(this.looks[0], pose, { x: 0, y: 0 }, false)
      return {
        plane: {
          ...{ width, height, x: Math.round(pose.x - anchor.x), y: Math.round(pose.y - anchor.y) },
          data: Uint8Array.from(seen, (light) => Math.min(255, Math.max(0, light))),
        },
        each,
      }
    })
  }

  /** Rectangle of a frame that `show` needs. */
  showReach(at: Point): Rect {
    return lookReach(at, this.outline)
  }

  private learn(plane: Plane, at: Point): Look {
    const { noise } = this
    const part = pointOutline(plane, at, this.outline, noise)
    const point = part && learnLook(plane, at, part, 0)
    this.point = point && { look: point, first: point }
    return learnLook(plane, at, this.outline, this.level)
  }

  private needed(): number {
    const { courage } = this.settings
    const share = NEEDED.early + (NEEDED.late - NEEDED.early) * courage
    return Math.max(LOWEST, Number.isNaN(this.usual) ? LOWEST + 0.1 : share * this.usual)
  }

  private extent(): number {
    return this.pose.scale * Math.max(...this.outline.radii) + this.smearLength()
  }

  private smearLength(): number {
    return Math.min(120, SHUTTER * this.stepLength)
  }

  private radiusOf(told: Prediction, time: number): number {
    const seconds = Math.abs(time - this.lastTime)
    const step = Math.hypot(told.velocity.x, told.velocity.y) * seconds
    const first = Math.max(FIRST_REACH.pixels, FIRST_REACH.radii * sizeOf(this.outline))
    const reach = Number.isFinite(told.error) ? 6 + 4 * told.error + 0.8 * step : first + 0.8 * step
    return Math.min(Math.max(this.picture.width, this.picture.height), Math.max(10, reach) * this.wide)
  }

  private isOutside({ x, y }: Point, error: number): boolean {
    const { width, height } = this.picture
    return x < -error || y < -error || x > width + error || y > height + error
  }

  /** Whether the body is such a streak that what shines through it has to be reckoned with. */
  private isStreak(told: Prediction): boolean {
    const { x, y } = this.smearAt(told)
    return Math.hypot(x, y) * 2 ** this.level > STREAK * 2 * sizeOf(this.outline) * this.pose.scale
  }

  /** Whether it was last seen so near to the border that it can have gone out since, whole or in part. */
  private wasAtBorder(told: Prediction, time: number): boolean {
    const { x, y } = this.pose
    const seconds = Math.abs(time - this.lastTime)
    const near =
      2 * this.extent() +
      Math.hypot(told.velocity.x, told.velocity.y) * Math.min(seconds, 2 * this.frameSeconds)
    return x < near || y < near || x > this.picture.width - near || y > this.picture.height - near
  }

  private smearAt(told: Prediction, level = this.level): Point {
    const share = (this.frameSeconds * SHUTTER) / 2 ** level
    return { x: told.velocity.x * share, y: told.velocity.y * share }
  }

  private accept(
    scenes: { found: Scene[]; fine: Scene },
    time: number,
    at: Point,
    found: Found,
    look: Look,
    told: Prediction,
  ): void {
    const [scene] = scenes.found
    const { pose, score } = found.refined
    const isFirst = Number.isNaN(this.usual)
    this.usual = isFirst ? score : 0.9 * this.usual + 0.1 * Math.max(score, 0.8 * this.usual)
    this.turning = 0.5 * this.turning + 0.5 * (pose.turn - this.pose.turn)
    this.growing = 0.7 * this.growing + 0.3 * Math.log(pose.scale / this.pose.scale)
    const before = { ...this.pose, time: this.lastTime }
    this.pose = { ...at, scale: pose.scale, turn: pose.turn }
    this.stepLength = Math.hypot(at.x - before.x, at.y - before.y)
    this.predictor.add(time, at)
    this.lastTime = time
    this.wide = 1
    this.misses = 0
    // The smear that a look itself has is known as soon as the body's velocity is.
    if (isFirst)
      for (const one of [look, this.point?.look]) {
        if (one?.smear.x !== 0 || one.smear.y !== 0) continue
        const share = (this.frameSeconds * SHUTTER) / 2 ** one.level / (time - before.time)
        one.smear = { x: share * (at.x - before.x), y: share * (at.y - before.y) }
      }
    const { renewal } = FREEDOM[this.settings.change]
    const isWhole = found.refined.visible.share > 0.9 && score > 0.9 * this.usual
    let renewed = look
    if (isWhole) this.sightings++
    if (renewal > 0 && isWhole && this.sightings % RENEWED === 0) {
      const smear = this.smearAt(told)
      renewed = renewLook(look, scene, pose, smear, renewal)
      const isHeld = this.sightings % (RENEWED * LEASH.every) === 0
      if (isHeld) renewed = this.leashed(renewed, this.first, scene, pose, smear)
      if (this.point) {
        const fine = { ...pose, ...at }
        const along = { x: smear.x * 2 ** this.level, y: smear.y * 2 ** this.level }
        const held = renewLook(this.point.look, scenes.fine, fine, along, renewal)
        this.point.look = isHeld ? this.leashed(held, this.point.first, scenes.fine, fine, along) : held
      }
    }
    this.looks = [renewed, ...this.looks.filter((other) => other !== look)]
  }

  /** A look whose point is drawn back to where the first look has it, as far as that still fits. */
  private leashed(look: Look, first: Look, scene: Scene, pose: Pose, smear: Point): Look {
    const smearing = smearBetween(turned(first.smear, pose.turn), smear)
    const patch = renderPatch(first, pose, smearing, scene.known !== null)
    const { noise } = this
    const held = refinePose(scene, patch, pose, LEASH.freedom, noise / 2 ** look.level)
    if (!held || held.score < LEASH.score * this.usual) return look
    const off = turned({ x: held.pose.x - pose.x, y: held.pose.y - pose.y }, -pose.turn)
    return {
      ...look,
      anchor: {
        x: look.anchor.x + (LEASH.pull * off.x) / pose.scale,
        y: look.anchor.y + (LEASH.pull * off.y) / pose.scale,
      },
    }
  }
}
