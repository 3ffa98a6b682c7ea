import { distance, type Point } from '../geometry/index.ts'
import type { Background } from './background.ts'
import { coverageOf, type Inside, insideOf } from './coverage.ts'
import { differenceFrom, gainOf } from './difference.ts'
import type { Grid, Plane } from './grid.ts'
import { FAINT, LEARNED, learnShape, lengthAt, STILL } from './learnedShape.ts'
import type { Outline } from './outline.ts'
import { reducedTo, type Shape } from './shape.ts'
import { type Fitted, findShape } from './silhouette.ts'
import { type Pose, smearBetween, turned } from './template.ts'
import { TypicalCover } from './typicalCover.ts'

/** Most change of the logarithm of the shape's size from one sighting to the next. */
const GROWTH = 0.03
/** Lowest score of a later fit, and share of the typical score that it must reach. */
const LEAST = { score: 0.4, share: 0.7 }
/**
 * A place shows the background if less than `share` of its pixels differ from it by more than `FAINT` of what is typical,
 * of a body of which at least `typical` differ, by at least `contrast` deviations.
 */
const BACKGROUND = { share: 0.2, typical: 0.5, contrast: 6 }
/** Places within this share of the radius are the same. */
const SAME_PLACE = 0.2

/** Share of the typical score with which a fit where the template has told the place is not looked for any better. */
const SETTLES = 0.95

/** Share by which what is typical follows each accepted fit. */
const RENEWAL = 0.2

/** Share of a fit's distance from the template by which it is brought nearer. */
const ALIGNED = 0.2

/** Search for a silhouette: lengths in the frame's pixels, times in seconds. */
export interface SilhouetteSearch {
  /** Expected place of the body's point, its standard error, and how far around it is looked. */
  at: Point
  error: number
  reach: number
  /** Way that the body goes while the shutter is open. */
  smear: Point
  time: number
  /** Whether a template or the prediction gives the place: a typical fit there is enough. */
  isPredicted: boolean
}

/** Finds a body by the pixels that differ from a known background, shaped as in the frame in which it was learned. */
export class SilhouetteMatcher {
  /** Score of the fit in the frame in which it was learned. */
  readonly learnedScore: number
  private turning = 0
  /** The offset as it was shown or taken for the middle, before any template has drawn it away. */
  private shownOffset: Point
  /** Whether the body was found in a frame other than the one in which this was learned. */
  isProven = false
  private seenAt: number

  private constructor(
    private readonly background: Background,
    readonly shape: Shape,
    /** From where the shape fits to the body's point, in the shape's own directions. */
    private offset: Point,
    readonly quality: 'full' | 'weak' | 'none',
    private pose: { scale: number; turn: number },
    /** Growth and turn of the shape where the template has none. */
    private readonly base: { scale: number; turn: number },
    private typicalScore: number,
    /** Share of the shape that typically differs from the background, and by how much, in deviations of the noise. */
    private typical: { share: number; contrast: number },
    /** Share of the shape that typically differs by more than `FAINT` of that. */
    private readonly typicalCover: TypicalCover,
    private readonly ignoresShadows: boolean,
    /** Whether its colour tells the body from what is behind it better than its brightness does. */
    readonly isByColour: boolean,
    time: number,
    /** Where the body's point was when most of the body was last seen to differ from the background. */
    private clearAt: Point,
    /** Smear that the outline itself has; null as long as it is not known. */
    private smear: Point | null,
    /** Whether the shape was learned without the smear that it had. */
    readonly isStreak: boolean,
  ) {
    this.seenAt = time
    this.learnedScore = typicalScore
    this.shownOffset = offset
  }

  /**
   * Learns the silhouette of a body from a frame.
   *
   * @param template growth and turn of the body since its outline was drawn
   * @param streak where the body is taken for a streak: the smear that its outline was drawn without, and the streak's length
   * @returns null if the background behind the body is not known
   */
  static learn(
    plane: Plane,
    at: Point,
    time: number,
    outline: Outline,
    background: Background,
    template: { scale: number; turn: number },
    streak?: { smear: Point; length: number },
  ): SilhouetteMatcher | null {
    const learned = learnShape(plane, at, outline, background, template, streak)
    if (!learned) return null
    const { shape, place, inside, cover, ignoresShadows, isByColour } = learned
    const { score, scale, turn } = place
    const quality = score >= LEARNED.full ? 'full' : score >= LEARNED.weak ? 'weak' : 'none'
    return new SilhouetteMatcher(
      background,
      shape,
      turned({ x: (at.x - place.x) / scale, y: (at.y - place.y) / scale }, -turn),
      quality,
      { scale, turn },
      { scale: scale / template.scale, turn: turn - template.turn },
      score,
      inside,
      new TypicalCover(cover),
      ignoresShadows,
      isByColour,
      time,
      at,
      streak ? STILL : null,
      streak !== undefined,
    )
  }

  /** Returns true if its turn is told by its shape. */
  get isElongated(): boolean {
    return this.shape.axis !== null
  }

  /** Gain of a frame over the background. */
  gainOf(plane: Plane): number {
    return gainOf(plane, this.background)
  }

  /** Difference of a frame from the background, at the size at which this body is looked for in it. */
  differenceOf(plane: Plane, gain: number): Grid {
    const { ignoresShadows } = this
    return reducedTo(this.shape, differenceFrom(plane, this.background, { gain, ignoresShadows }))
  }

  private offsetAt({ scale, turn }: Pick<Fitted, 'scale' | 'turn'>): Point {
    const { x, y } = turned(this.offset, turn)
    return { x: scale * x, y: scale * y }
  }

  /** Best fit in a frame, as the place of the body's point; null if nothing there fits well enough. */
  find(difference: Grid, { at, error, reach, smear, time, isPredicted }: SilhouetteSearch): Fitted | null {
    const { scale } = this.pose
    const turn = this.pose.turn + this.turning * (time - this.seenAt)
    const off = this.offsetAt({ scale, turn })
    const streak = this.isStreak ? lengthAt(smear, this.shape) : 0
    const fit = findShape(coverageOf(difference, this.typical.contrast, streak), this.shape, {
      at: { x: at.x - off.x, y: at.y - off.y },
      error: Number.isFinite(error) ? error : reach,
      reach,
      scale,
      turn,
      growth: GROWTH,
      ...(isPredicted && { settles: SETTLES * this.typicalScore }),
      smear: smearBetween(turned(this.smear ?? STILL, turn), smear),
    })
    if (!fit || fit.score < Math.max(LEAST.score, LEAST.share * this.typicalScore)) return null
    const by = this.offsetAt(fit)
    const { rival } = fit
    return {
      ...fit,
      x: fit.x + by.x,
      y: fit.y + by.y,
      rival: rival && { ...rival, x: rival.x + by.x, y: rival.y + by.y },
    }
  }

  /** Score of a fit as a share of the typical one, 0 … 1. */
  certaintyOf({ score }: Pick<Fitted, 'score'>): number {
    return Math.min(1, Math.max(0, score / Math.max(this.typicalScore, score)))
  }

  /** Takes over how much of the shape is seen in a frame in which the body was found. */
  renewCover(difference: Grid, fit: Fitted): void {
    this.typicalCover.renew(this.coverOf(difference, fit))
  }

  /** Pixels within the shape as it lies about the body's point; `least` is how much they must differ from the background. */
  private insideAt(difference: Grid, { x, y, scale, turn }: Pose, least = 0): Inside {
    const off = this.offsetAt({ scale, turn })
    return insideOf(difference, this.shape, { x: x - off.x, y: y - off.y, scale, turn }, least)
  }

  /** Share of the shape that differs clearly from the background. */
  private coverOf(difference: Grid, pose: Pose): number {
    return this.insideAt(difference, pose, FAINT * this.typical.contrast).share
  }

  /**
   * Returns true if a part of the shape is not seen where it fits: something hides it, and the rest fits as well at any place
   * within which it lies.
   *
   * @param smear way that the body goes while the shutter is open
   * @param isAgain whether it was not seen just before
   */
  isCut(difference: Grid, fit: Fitted, smear: Point, isAgain: boolean): boolean {
    const inRadii = Math.hypot(smear.x, smear.y) / this.shape.radius
    return !this.isStreak && this.typicalCover.isCut(this.coverOf(difference, fit), inRadii, isAgain)
  }

  /**
   * Returns true if what is at a place of the body's point is the background, where the body would differ from it. What rests may
   * have become background, but not where it differed from it when it was seen last.
   */
  isBackground(difference: Grid, at: Point, isMoving: boolean): boolean {
    if (!isMoving && distance(at, this.clearAt) > SAME_PLACE * this.shape.radius) return false
    if (this.typical.share < BACKGROUND.typical || this.typical.contrast < BACKGROUND.contrast) return false
    return this.coverOf(difference, { ...at, ...this.pose }) < BACKGROUND.share
  }

  /** Is shown where the body is: what differs from the background there is the body's, and no background later. */
  showAt(plane: Plane, at: Point): void {
    const difference = this.differenceOf(plane, this.gainOf(plane))
    const { share } = this.insideAt(difference, { ...at, ...this.pose })
    if (share > BACKGROUND.share) this.clearAt = at
  }

  /**
   * Takes over where within the shape the body's point is from a frame in which a person has shown it: what a template has
   * drifted by since does not count. Does nothing if the shape is not found there.
   *
   * @param smear way that the body went there while the shutter was open, beyond what its outline has
   * @returns whether it was found
   */
  anchorBy(plane: Plane, at: Point, smear: Point = STILL): boolean {
    const difference = this.differenceOf(plane, this.gainOf(plane))
    const streak = this.isStreak ? lengthAt(smear, this.shape) : 0
    const fit = findShape(coverageOf(difference, this.typical.contrast, streak), this.shape, {
      ...this.base,
      growth: LEARNED.growth,
      at,
      error: 2,
      reach: 2 + 0.5 * this.shape.radius,
      smear,
    })
    if (!fit || fit.score < LEARNED.full) return false
    const { x, y } = turned({ x: at.x - fit.x, y: at.y - fit.y }, -fit.turn)
    this.offset = { x: x / fit.scale, y: y / fit.scale }
    this.shownOffset = this.offset
    return true
  }

  /** Takes over where the body's point is from the middle of an earlier silhouette, as it was shown then. */
  anchorLike(before: SilhouetteMatcher): void {
    const { x, y } = before.shape.middle
    this.offset = {
      x: this.shape.middle.x + before.shownOffset.x - x,
      y: this.shape.middle.y + before.shownOffset.y - y,
    }
    this.shownOffset = this.offset
  }

  /** Distance of the body's point from the middle of the shape, in radii. */
  get offCentre(): number {
    return distance(this.offset, this.shape.middle) / this.shape.radius
  }

  /** Takes the middle of the shape for the body's point. */
  centre(): void {
    this.offset = this.shape.middle
    this.shownOffset = this.offset
  }

  /** Brings a fit nearer to the place that the template gave in the same frame, so that a change between both is no jump. */
  alignTo(template: Point, fit: Fitted): void {
    const { x, y } = turned({ x: template.x - fit.x, y: template.y - fit.y }, -fit.turn)
    this.offset = {
      x: this.offset.x + (ALIGNED * x) / fit.scale,
      y: this.offset.y + (ALIGNED * y) / fit.scale,
    }
  }

  /** Takes over growth and turn of a template that was accepted as the body's. */
  acceptTemplate({ scale, turn }: { scale: number; turn: number }, time: number): void {
    this.isProven = true
    this.pose = { scale: this.base.scale * scale, turn: this.base.turn + turn }
    this.turning = 0
    this.seenAt = time
  }

  /** Takes over a fit that was accepted as the body's. */
  accept(difference: Grid, fit: Fitted, time: number): void {
    this.isProven = true
    const { scale, turn, score } = fit
    const inside = this.insideAt(difference, fit)
    if (inside.share > BACKGROUND.typical) this.clearAt = { x: fit.x, y: fit.y }
    if (!Number.isNaN(inside.share) && score > LEARNED.weak)
      this.typical = {
        share: (1 - RENEWAL) * this.typical.share + RENEWAL * inside.share,
        contrast: (1 - RENEWAL) * this.typical.contrast + RENEWAL * inside.contrast,
      }
    this.renewCover(difference, fit)
    const seconds = time - this.seenAt
    // A shape that looks the same upside down is taken to have turned the shorter way.
    const turned = turn - this.pose.turn
    if (seconds !== 0) this.turning = (turned - Math.PI * Math.round(turned / Math.PI)) / seconds
    this.pose = { scale, turn }
    this.typicalScore = 0.9 * this.typicalScore + 0.1 * Math.max(score, 0.8 * this.typicalScore)
    this.seenAt = time
  }

  /** Sets the smear of the outline once it is known, if it was not. */
  learnSmear(smear: Point): void {
    this.smear ??= smear
  }
}
