import { distance, type Point } from '../geometry/index.ts'
import type { Background } from './background.ts'
import { coverageOf, insideOf } from './coverage.ts'
import { differenceFrom, differencesAt, gainOf } from './difference.ts'
import type { Grid, Plane } from './grid.ts'
import type { Outline } from './outline.ts'
import { reducedTo, type Shape, shapeCovered, shapeOf } from './shape.ts'
import { closedFor, type Fitted, findShape } from './silhouette.ts'
import { smearBetween, turned } from './template.ts'

/**
 * Scores of the shape's fit in the frame in which it is learned. From `full` on it is as good a witness of the place as
 * the template; from `weak` on it serves where the template fails; from `sure` on no other place is looked at.
 */
const LEARNED = { sure: 0.95, full: 0.82, weak: 0.55 }
/** Shadows are ignored if that makes the first fit better by this much. */
const WITHOUT_SHADOW = 0.03
/** An outline that scores less than `score` gives way to the shape of what is covered, if that scores better by so much. */
const BY_OUTLINE = { score: 0.9, better: 0.05 }
/** Most change of the logarithm of the shape's size: where it is learned, and from one sighting to the next. */
const GROWTH = { learned: 0.2, perFrame: 0.03 }
/** Lowest score of a later fit, and share of the typical score that it must reach. */
const LEAST = { score: 0.4, share: 0.7 }
/**
 * A place shows the background if less than `share` of its pixels differ from it by more than `faint` of what is typical,
 * of a body of which at least `typical` differ, by at least `contrast` deviations.
 */
const BACKGROUND = { share: 0.2, faint: 0.25, typical: 0.5, contrast: 6 }
/** Places within this share of the radius are the same. */
const SAME_PLACE = 0.2
/** Deviations by which some of a body must differ from the background in brightness, for a template to tell its place. */
const TOO_ALIKE = 6

/** Share of the typical score with which a fit where the template has told the place is not looked for any better. */
const SETTLES = 0.95

/** Share by which what is typical follows each accepted fit. */
const RENEWAL = 0.2

/** Share of a fit's distance from the template by which it is brought nearer. */
const ALIGNED = 0.2

const STILL: Point = { x: 0, y: 0 }

/** Length of a way in pixels of a shape. */
const lengthOf = (way: Point | undefined, { level }: Shape) =>
  way ? Math.hypot(way.x, way.y) / 2 ** level : 0

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
    private readonly ignoresShadows: boolean,
    /** Whether the body is as bright as what is behind it, so that only its colour tells them apart. */
    readonly isByColourAlone: boolean,
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
   * @param look growth and turn of the body since its outline was drawn
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
    const outlined = shapeOf(outline)
    const gain = gainOf(plane, background)
    const search = {
      ...template,
      growth: GROWTH.learned,
      at,
      error: 2,
      reach: 2 + 0.5 * outlined.radius,
      smear: streak?.smear ?? STILL,
    }
    const length = (streak?.length ?? 0) / 2 ** outlined.level
    const learned = (whole: Grid, ignoresShadows: boolean) => {
      const difference = reducedTo(outlined, whole)
      const fitWith = (shape: Shape, least: number, settles: number) =>
        findShape(coverageOf(difference, least, length), shape, { ...search, settles }) ?? {
          ...at,
          ...template,
          score: 0,
        }
      // Once it is known how much the body differs, what differs far less is left out.
      const { contrast } = insideOf(difference, outlined, fitWith(outlined, 0, LEARNED.weak))
      let [shape, place] = [outlined, fitWith(outlined, contrast || 0, LEARNED.sure)]
      // What is long may be a streak, whose shape does not turn with the body.
      if (place.score < BY_OUTLINE.score && !streak && outlined.axis === null) {
        const covered = closedFor(coverageOf(difference, contrast || 0), outlined)
        const other = shapeCovered(covered, outline, outlined, { ...at, ...template })
        const fit = other && fitWith(other, contrast || 0, LEARNED.sure)
        const isRound = other?.axis === null
        if (fit && isRound && fit.score > place.score + BY_OUTLINE.better) [shape, place] = [other, fit]
      }
      return { shape, place, ignoresShadows, inside: insideOf(difference, shape, place) }
    }
    const differences = differencesAt(plane, background, gain, at, 0.8 * outlined.radius)
    const plain = learned(differences.plain, false)
    const canBeBetter = plain.place.score + WITHOUT_SHADOW < 1
    const shadowless = canBeBetter && differences.shadowless ? learned(differences.shadowless, true) : null
    const isBetter = shadowless && shadowless.place.score > plain.place.score + WITHOUT_SHADOW
    const { shape, place, ignoresShadows, inside } = isBetter ? shadowless : plain
    const { share, contrast } = inside
    if (Number.isNaN(share)) return null
    const { score } = place
    const quality = score >= LEARNED.full ? 'full' : score >= LEARNED.weak ? 'weak' : 'none'
    const { chroma, ...bright } = plane
    const brightness = differenceFrom(bright, background, { gain, ignoresShadows: false })
    const light = insideOf(reducedTo(shape, brightness), shape, place)
    const { scale, turn } = place
    return new SilhouetteMatcher(
      background,
      shape,
      turned({ x: (at.x - place.x) / scale, y: (at.y - place.y) / scale }, -turn),
      quality,
      { scale, turn },
      { scale: scale / template.scale, turn: turn - template.turn },
      score,
      { share, contrast },
      ignoresShadows,
      chroma !== undefined && light.strongest < TOO_ALIKE && contrast > 2 * TOO_ALIKE,
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
    const streak = this.isStreak ? lengthOf(smear, this.shape) : 0
    const fit = findShape(coverageOf(difference, this.typical.contrast, streak), this.shape, {
      at: { x: at.x - off.x, y: at.y - off.y },
      error: Number.isFinite(error) ? error : reach,
      reach,
      scale,
      turn,
      growth: GROWTH.perFrame,
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

  /**
   * Returns true if what is at a place of the body's point is the background, where the body would differ from it. What rests may
   * have become background, but not where it differed from it when it was seen last.
   */
  isBackground(difference: Grid, at: Point, isMoving: boolean): boolean {
    if (!isMoving && distance(at, this.clearAt) > SAME_PLACE * this.shape.radius) return false
    if (this.typical.share < BACKGROUND.typical || this.typical.contrast < BACKGROUND.contrast) return false
    const off = this.offsetAt(this.pose)
    const place = { x: at.x - off.x, y: at.y - off.y, ...this.pose }
    const { share } = insideOf(difference, this.shape, place, BACKGROUND.faint * this.typical.contrast)
    return share < BACKGROUND.share
  }

  /** Is shown where the body is: what differs from the background there is the body's, and no background later. */
  showAt(plane: Plane, at: Point): void {
    const off = this.offsetAt(this.pose)
    const place = { x: at.x - off.x, y: at.y - off.y, ...this.pose }
    const { share } = insideOf(this.differenceOf(plane, this.gainOf(plane)), this.shape, place)
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
    const streak = this.isStreak ? lengthOf(smear, this.shape) : 0
    const fit = findShape(coverageOf(difference, this.typical.contrast, streak), this.shape, {
      ...this.base,
      growth: GROWTH.learned,
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
    const off = this.offsetAt(fit)
    const inside = insideOf(difference, this.shape, { x: fit.x - off.x, y: fit.y - off.y, scale, turn })
    if (inside.share > BACKGROUND.typical) this.clearAt = { x: fit.x, y: fit.y }
    if (!Number.isNaN(inside.share) && score > LEARNED.weak)
      this.typical = {
        share: (1 - RENEWAL) * this.typical.share + RENEWAL * inside.share,
        contrast: (1 - RENEWAL) * this.typical.contrast + RENEWAL * inside.contrast,
      }
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
